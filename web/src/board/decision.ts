/** What an owner may agree to. */
export const AGREEMENTS = {
  testing: 'Further testing',
  open_fuel: 'Opening the fuel line or rail',
  open_engine: 'Taking the engine apart',
  repair: 'The repair',
} as const
export type Agreement = keyof typeof AGREEMENTS
export type Way = 'in_person' | 'phone' | 'message'

/** A decision as it is typed. */
export interface Decided {
  who: string
  way: Way
  option: string
  agreed: Agreement[]
  up_to_minutes: number | null
  up_to: string
  note: string
}

export const noDecision = (): Decided => ({
  who: '',
  way: 'in_person',
  option: '',
  agreed: [],
  up_to_minutes: null,
  up_to: '',
  note: '',
})

/** A way to go on, as far as a decision needs it. */
export interface WayOn {
  kind: string
  words: string
  opens_engine: boolean
}

/** A decision with a way picked, or taken off again, and with what that way needs a yes to. */
export function withOption(given: Decided, way: WayOn): Decided {
  if (given.option === way.words) return { ...given, option: '' }
  if (way.kind === 'nothing') return { ...given, option: way.words, agreed: [] }
  const needs: Agreement[] = way.kind === 'test_first' ? ['testing'] : ['repair']
  if (way.opens_engine) needs.push('open_engine')
  return { ...given, option: way.words, agreed: [...new Set([...given.agreed, ...needs])] }
}

/** A decision as it is sent beside its signature; what is empty stays away. */
export function decisionFields(given: Decided): Record<string, string> {
  const minutes = given.up_to_minutes === null ? '' : String(given.up_to_minutes)
  const fields = { ...given, agreed: given.agreed.join(','), up_to_minutes: minutes }
  return Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== ''))
}
