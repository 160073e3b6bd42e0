import type { Schemas } from '@/api/client'

/** Under which conditions something was so; what is left out was not said. */
export type Conditions = Schemas['TakenRequest']

export const TEMPERATURES: readonly { value: NonNullable<Conditions['temperature']>; words: string }[] = [
  { value: 'cold', words: 'Cold' },
  { value: 'hot', words: 'Hot' },
]
export const LOADS: readonly { value: NonNullable<Conditions['load']>; words: string }[] = [
  { value: 'idle', words: 'Idle' },
  { value: 'snap', words: 'Snap throttle' },
  { value: 'brake_torque', words: 'Held on the brake' },
  { value: 'cruise', words: 'Steady speed' },
]

/** The conditions with one of them set, or taken back where it was set already. */
export function toggled<K extends keyof Conditions>(
  of: Conditions,
  key: K,
  value: Conditions[K],
): Conditions {
  return said({ ...of, [key]: of[key] === value ? undefined : value })
}

/** Only what was said: an empty field is no condition. */
export function said(of: Conditions): Conditions {
  return Object.fromEntries(Object.entries(of).filter(([, value]) => value !== undefined && value !== null))
}
