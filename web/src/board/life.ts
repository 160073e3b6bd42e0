import type { Schemas } from '@/api/client'
import type { Row } from './useBoard'

/** What became of the cylinders of a row since the repair it was taken after. */
export function changesOf(row: Row, life: Schemas['Life']): Record<number, Schemas['Change']> {
  const repair = life.repairs.find((r) => r.phase === row.phase)
  const compared =
    row.usable && !row.withdrawn ? repair?.compared.find((k) => k.test === row.test) : undefined
  return Object.fromEntries(compared?.changes.map((c) => [c.cylinder, c]) ?? [])
}

/** State of the vehicle a row was taken in, in words; empty as it arrived. */
export function phaseWords(row: Row, life: Schemas['Life']): string {
  return row.phase ? (life.phases.find((p) => p.number === row.phase)?.words ?? '') : ''
}
