import type { Value } from './forms'

/** Cells of a table by row, then column. */
export interface Cell {
  row: number
  column: number
}

/**
 * Where a key leads in a table of readings; null where it leads out of it.
 *
 * Enter goes on through the row and then to the next row: a row is one round of the meter.
 */
export function nextCell(at: Cell, key: string, shift: boolean, rows: number, columns: number): Cell | null {
  if (key === 'ArrowUp' || key === 'ArrowDown') {
    const row = at.row + (key === 'ArrowUp' ? -1 : 1)
    return { row: Math.min(Math.max(row, 0), rows - 1), column: at.column }
  }
  const place = at.row * columns + at.column + (shift ? -1 : 1)
  if (place < 0) return at
  return place < rows * columns ? { row: Math.floor(place / columns), column: place % columns } : null
}

/** The one value a row has so far, to be given to the cylinders still empty; undefined where none or several. */
export function commonValue(row: Record<number, Value>, order: readonly number[]): Value {
  const filled = order
    .map((c) => row[c])
    .filter((v) => v !== undefined && v !== null && v !== '' && v !== false)
  const distinct = new Set(filled)
  return distinct.size === 1 && filled.length < order.length ? filled[0] : undefined
}
