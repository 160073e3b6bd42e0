import type { Schemas } from '@/api/client'

/** Roles that are measured at one cylinder. */
export const OF_ONE_CYLINDER: readonly string[] = ['coil_control', 'coil_current', 'secondary_voltage', 'injector_voltage', 'injector_current', 'cylinder_pressure'] // prettier-ignore

export type Lead = Schemas['CameThrough']

/** What one column of the file is taken for, and what was found out about it. */
export interface ColumnUse {
  column: string
  role: string
  unit: string
  cylinder: number | null
  sync: boolean
  lead: Lead | null
  guess: Schemas['ColumnGuess']
}

/** Leads that stand before such a role; none where the column is not in volts. */
export const offersFor = (use: ColumnUse): Schemas['ColumnGuess']['leads'] =>
  use.unit === 'V' || use.unit === 'mV' ? use.guess.leads.filter((o) => o.role === use.role) : []

/** Whether nothing but a lead makes the column what it is said to be: one that nobody knows is offered too. */
export const needsLead = (use: ColumnUse): boolean => offersFor(use).some((o) => o.lead.per_volt == null)

/** Two leads are the same lead. */
export const sameLead = (a: Lead | null, b: Lead | null): boolean =>
  a === b ||
  (!!a &&
    !!b &&
    a.kind === b.kind &&
    a.unit === b.unit &&
    (a.per_volt ?? null) === (b.per_volt ?? null) &&
    (a.zero_v ?? 0) === (b.zero_v ?? 0))

/** A battery stands at a level; a starter's current does while it turns. Everything else leaves its rest now and then. */
export const stands = (use: ColumnUse): boolean => use.role === 'starter_current' || standsOff(use)
const standsOff = (use: ColumnUse): boolean => use.role === 'battery_voltage' && use.guess.preview.length > 0

/** How far the column reaches from its rest as it is read now, in words; empty where nobody can say. */
export function reachOf(use: ColumnUse): string {
  const volts = use.guess.height * (use.unit === 'mV' ? 1e-3 : 1)
  const through = offersFor(use).length ? use.lead : null
  if (through) {
    if (through.per_volt == null) return ''
    return `${short(volts * Math.abs(through.per_volt))} ${through.unit}`
  }
  const height = standsOff(use) ? Math.max(...use.guess.preview) : use.guess.height
  return use.unit && !needsLead(use) && use.role !== 'time' ? `${short(height)} ${use.unit}` : ''
}

/** What is seen in the picture of a column, in words. */
export function seenIn(use: ColumnUse, attempts: readonly (readonly number[])[]): string {
  if (use.role === 'starter_current' && attempts.length) {
    return attempts.length === 1 ? 'cranks once' : `cranks ${attempts.length} times`
  }
  const hertz = use.guess.events_hz
  if (!hertz || !OF_ONE_CYLINDER.includes(use.role)) return ''
  return `once a cycle at ${Math.round(120 * hertz)} rpm`
}

/** What the columns leave open that only somebody at the engine knows: the cylinder of a sync and of each of several. */
export function cylindersOpen(columns: readonly ColumnUse[]): string[] {
  return columns
    .filter((c) => OF_ONE_CYLINDER.includes(c.role) && c.cylinder === null)
    .filter((c) => c.sync || columns.filter((o) => o.role === c.role).length > 1)
    .map((c) => `the cylinder of ${c.column}`)
}

const short = (value: number): string => {
  const rounded = Number(value.toPrecision(value >= 10 ? 3 : 2))
  return rounded.toLocaleString(undefined, { maximumFractionDigits: 4 })
}
