/** How rows of cylinders share their scale: all the same, the same but for wild ones, or each its own. */
export const SCALINGS = ['same', 'tamed', 'own'] as const
export type Scaling = (typeof SCALINGS)[number]
export const SCALING_WORDS: Record<Scaling, string> = {
  same: 'Same scale',
  tamed: 'Same scale, wild ones cut off',
  own: 'Each its own scale',
}

export const nextScaling = (now: Scaling): Scaling => SCALINGS[(SCALINGS.indexOf(now) + 1) % SCALINGS.length]!

/** How far beyond the middle one the tamed scale goes, in its own heights. */
const ROOM = 0.6

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}

/**
 * The scale most cylinders fill, from what each of them reaches: one wild lead runs out of its row instead of
 * flattening the others. Never wider than what is there.
 */
export function tamed(reaches: readonly (readonly [number, number])[]): [number, number] {
  if (!reaches.length) return [0, 1]
  const low = median(reaches.map(([l]) => l))
  const high = median(reaches.map(([, h]) => h))
  const room = ROOM * (high - low)
  return [
    Math.max(Math.min(...reaches.map(([l]) => l)), low - room),
    Math.min(Math.max(...reaches.map(([, h]) => h)), high + room),
  ]
}
