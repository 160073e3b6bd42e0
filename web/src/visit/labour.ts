import type { Schemas } from '@/api/client'
import { minutesInWords } from '@/shared/words'

/** Labour so far, of what was agreed. */
export function labourInWords(minutes: number, agreed: number | null): string {
  const so = `${minutesInWords(minutes)} of labour`
  return agreed === null ? so : `${so}, ${minutesInWords(agreed)} agreed`
}

/** Labour of a visit; what was agreed is left out where a warning beside it says so already. */
export function labourOf(visit: Pick<Schemas['Visit'], 'labour_minutes' | 'ceiling_words' | 'said'>): string {
  return labourInWords(visit.labour_minutes, visit.ceiling_words ? null : visit.said.ceiling_minutes)
}

/** Numbers as they are typed or pasted in a line; null where one of them is none. */
export function numbersTyped(text: string): number[] | null {
  const found = text
    .trim()
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((word) => Number(word.replace(',', '.')))
  return found.every((value) => Number.isFinite(value) && value > 0) ? found : null
}

/** A day as people of this place write it. */
export function dayInWords(day: string): string {
  const [year, month, date] = day.split('-').map(Number)
  if (!year || !month || !date) return day
  return new Date(year, month - 1, date).toLocaleDateString(undefined, { dateStyle: 'medium' })
}
