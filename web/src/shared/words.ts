import { reactive } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

type Vocabulary = Schemas['Vocabulary']

/** Words for values of the API, said by the server; empty until `loadWords` has come back. */
export const words = reactive<Vocabulary>({
  roles: {},
  tests: {},
  causes: {},
  statuses: {},
  settings: [],
  units: [],
  parts: {},
  fitted: {},
  faults: {},
  signs: {},
  exports: [],
  trade_words: [],
})

/** Fetch the words; whoever is logged in needs them before the first view. */
export async function loadWords(): Promise<void> {
  Object.assign(words, await unwrap(client.GET('/api/words/')))
}

/** The word for a value; the value itself where none is known. */
export function wordFor(
  kind: 'roles' | 'tests' | 'causes' | 'statuses' | 'parts' | 'fitted' | 'faults',
  value: string,
): string {
  return words[kind][value] ?? value
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

/** A chance in per cent: never certain. */
export function chanceInWords(percent: number): string {
  return percent >= 100 ? 'over 99 %' : `${percent} %`
}
