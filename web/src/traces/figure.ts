/** The stretch a figure shows: between the cursors where both are set, in whichever order, else what is looked at. */
export function figureStretch(
  [a, b]: readonly [number | null, number | null],
  looked: { from: number; to: number },
): { from_s: number; to_s: number } {
  if (a === null || b === null || a === b) return { from_s: looked.from, to_s: looked.to }
  return { from_s: Math.min(a, b), to_s: Math.max(a, b) }
}
