/** Words for values of the API. */
export const STATUS_WORDS: Record<string, string> = {
  established: 'established',
  supported: 'supported',
  suspected: 'suspected',
  inconclusive: 'inconclusive',
  no_fault_found: 'no fault found',
}

export const CAUSE_WORDS: Record<string, string> = {
  ignition: 'Ignition',
  fuel: 'Fuel',
  mechanical: 'Mechanical',
  control: 'Control',
  none: 'No fault',
}

export const ROLE_WORDS: Record<string, string> = {
  time: 'Time',
  starter_current: 'Starter current',
  battery_voltage: 'Battery voltage',
  coil_control: 'Coil command',
  coil_current: 'Coil current',
  secondary_voltage: 'Secondary voltage',
  injector_voltage: 'Injector voltage',
  injector_current: 'Injector current',
  cam_sensor: 'Cam sensor',
  crank_sensor: 'Crank sensor',
  cylinder_pressure: 'Cylinder pressure',
  exhaust_pressure: 'Exhaust pulse',
  intake_pressure: 'Intake pulse',
  crankcase_pressure: 'Crankcase pulse',
  other: 'Leave out',
}

export const TEST_WORDS: Record<string, string> = {
  relative_compression: 'Relative compression',
  crank_speed: 'Crank speed',
  secondary_voltage: 'Secondary voltage',
  coil_current: 'Coil current',
  coil_control: 'Coil command',
  injector_current: 'Injector current',
  injector_voltage: 'Injector voltage',
  cylinder_pressure: 'Cylinder pressure',
  exhaust_pulse: 'Exhaust pulse',
  intake_pulse: 'Intake pulse',
  crankcase_pulse: 'Crankcase pulse',
}

export const SCHOOL_WORDS: Record<string, string> = {
  mechanical_first: 'Mechanical first',
  codes_first: 'Electrical first, from the codes',
  quickest_first: 'Quickest test first',
}

/** Minutes as a technician says them. */
export function minutesInWords(minutes: number): string {
  if (minutes < 90) return `${minutes} min`
  const hours = Math.floor(minutes / 60)
  return hours < 48 ? `${hours} h ${minutes % 60} min` : `${Math.round(hours / 24)} days`
}

/** A moment as day and time of this place. */
export function whenInWords(moment: string): string {
  return new Date(moment).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })
}
