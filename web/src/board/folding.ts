import type { Row } from './useBoard'

/** From so many tests on, those in which nothing stands out take one line each. */
export const FOLD_FROM = 6

/** Whether a row says anything that must be seen at once. */
function speaks(row: Row): boolean {
  return (
    !row.usable || row.withdrawn || row.doubted !== '' || row.reasons.length > 0 || !row.assigned ||
    row.cells.some((cell) => cell.state !== 'normal')
  ) // prettier-ignore
}

/** Rows that are folded to one line: never those that accuse, doubt, or stand in a state after a repair. */
export function foldedOf(rows: readonly Row[]): ReadonlySet<string> {
  if (rows.length < FOLD_FROM) return new Set()
  return new Set(rows.filter((row) => !speaks(row) && row.phase === 0).map((row) => row.id))
}
