import type { Schemas } from '@/api/client'

/** How one test is written down; the server holds what it means. */
export type Form = Schemas['Form']
/** Numbers, words or ticks; what was left empty is not there. */
export type Value = number | string | boolean | null | undefined
export type Values = Record<string, Record<number, Value>>
export type Choices = Record<string, string>

const isFilled = (value: Value) => value !== undefined && value !== null && value !== ''

/** Cylinders, in firing order, with every needed row filled, or one that is enough alone. */
export function filledAt(form: Form, values: Values, order: readonly number[]): number[] {
  const needed = form.rows.filter((row) => !row.tick && !row.optional && !row.alone)
  const ticks = form.rows.filter((row) => row.tick)
  const alone = form.rows.filter((row) => row.alone)
  return order.filter(
    (c) =>
      (needed.length > 0 && needed.every((row) => isFilled(values[row.key]?.[c]))) ||
      ticks.some((row) => values[row.key]?.[c] === true) ||
      alone.some((row) => isFilled(values[row.key]?.[c])),
  )
}

/** Whether enough is filled in to be kept. */
export function isReady(
  form: Form,
  values: Values,
  entries: Record<string, Value>,
  order: readonly number[],
): boolean {
  return (
    (form.rows.length === 0 || filledAt(form, values, order).length >= form.least) &&
    form.entries.every((e) => e.optional || isFilled(trimmed(entries[e.key])))
  )
}

/** Choices as they stand when a form opens: the usual ones, or `item` where some choice offers it. */
export function firstChoices(form: Form, item: string): Choices {
  return Object.fromEntries(
    form.choices.map((c) => {
      const open = c.options.filter((o) => !o.why_not)
      return [c.key, open.some((o) => o.value === item) ? item : (open[0]?.value ?? '')]
    }),
  )
}

/** What to heed: always, and with what is chosen. */
export function cautionsUnder(form: Form, choices: Choices): string[] {
  const chosen = form.choices.flatMap(
    (c) => c.options.find((o) => o.value === (choices[c.key] ?? ''))?.cautions ?? [],
  )
  return [...new Set([...form.cautions, ...chosen])]
}

/** What sound parts read, under the choices made; empty where nothing is usual. */
export function usualUnder(form: Form, choices: Choices): string {
  return form.usual[leading(form, choices)] ?? form.usual[''] ?? ''
}

/** Places along the wire that a reading may name, under the choices made. */
export function placesUnder(form: Form, choices: Choices): readonly string[] {
  return form.between || form.along.includes(leading(form, choices)) ? form.places : []
}

/** Whether both ends are named of what is measured from one place to another. */
export function hasEnds(form: Form, choices: Choices): boolean {
  return !form.between || Boolean(choices['place'] && choices['place_to'])
}

/** Whether the calculator of currents and resistances helps, under the choices made. */
export function calculatesUnder(form: Form, choices: Choices): boolean {
  return form.calculates.includes(leading(form, choices))
}

function leading(form: Form, choices: Choices): string {
  const first = form.choices[0]
  return first ? (choices[first.key] ?? '') : ''
}

function trimmed(value: Value): Value {
  return typeof value === 'string' ? value.trim() : value
}
