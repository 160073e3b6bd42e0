import type { Row } from './useBoard'

/**
 * The scale on which the averaged cycles of one test are drawn, where it was taken in several states of the vehicle:
 * before and after are read against each other. Undefined where a row stands alone.
 */
export function scaleOf(row: Row, rows: readonly Row[]): readonly [number, number] | undefined {
  const beside = rows.filter(
    (r) => r.test === row.test && r.usable && !r.withdrawn && r.strip && r.strip.unit === row.strip?.unit,
  )
  if (!row.strip || new Set(beside.map((r) => r.phase)).size < 2 || !beside.includes(row)) return undefined
  const strips = beside.flatMap((r) => (r.strip ? [r.strip] : []))
  return [Math.min(...strips.flatMap((s) => s.low)), Math.max(...strips.flatMap((s) => s.high))]
}
