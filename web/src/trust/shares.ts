import type { Schemas } from '@/api/client'

type Tally = Pick<Schemas['Tally'], 'hits' | 'count' | 'low' | 'high'>

/** A share in per cent; nothing where nothing was counted. */
export function percentOf(share: number | null): string {
  return share === null ? '–' : `${(100 * share).toFixed(1)} %`
}
export function percent(tally: Tally): string {
  return percentOf(tally.count ? tally.hits / tally.count : null)
}
/** Hits and cases, and the interval the true share lies in. */
export function between(tally: Tally, digits = 0): string {
  const [low, high] = [tally.low, tally.high].map((share) => (100 * share).toFixed(digits))
  return `${tally.hits} of ${tally.count}, ${low} to ${high}\u00a0%`
}

/** How a lead reads beside the others, in a sentence. */
export function leadReads(lead: Schemas['LeadReads']): string {
  const off = Math.round(100 * Math.abs(lead.share - 1))
  const range = `${lead.captures} captures, ${Math.round(100 * lead.low)} to ${Math.round(100 * lead.high)}\u00a0% of the others`
  if (!lead.is_off) return `Your ${lead.words} reads as the others do (${range}).`
  return `Your ${lead.words} reads ${off} % ${lead.share < 1 ? 'low' : 'high'} (${range}).`
}
