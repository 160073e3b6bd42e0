import type { Schemas } from '@/api/client'

type Custody = Schemas['Custody'] | null

/** What the last check of all evidence found, in a few words; nothing where there was none yet. */
export function custodyInWords(custody: Custody, now: Date): string {
  if (!custody || custody.changed.length) return ''
  const at = new Date(custody.at)
  const clock = at.toLocaleTimeString(undefined, { timeStyle: 'short' })
  const today = at.toDateString() === now.toDateString()
  const day = today ? 'today' : at.toLocaleDateString(undefined, { dateStyle: 'medium' })
  return `evidence intact, checked ${day} ${clock}`
}
