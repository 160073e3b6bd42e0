import type { Cycles } from './useFolds'
import type { Stretch } from './useTraces'

/** A moment at which a cylinder fires, or would. */
export interface CylinderEvent {
  at: number
  cylinder: number
}
/** More numbers than this across the screen would stand on each other. */
const MOST = 48

/** Where the cylinders' events lie within a stretch of time; none where there are too many to be read. */
export function eventsIn(cycles: Cycles | null | undefined, { from, to }: Stretch): CylinderEvent[] {
  if (!cycles?.available) return []
  const found: CylinderEvent[] = []
  for (const [i, start] of cycles.starts_s.entries()) {
    const end = cycles.ends_s[i] ?? start
    if (end < from || start > to) continue
    for (const w of cycles.windows) {
      // A window opens a little before its event, as the folded axis does before the first one.
      const at = start + ((w.from_deg - cycles.from_deg) / 720) * (end - start)
      if (at >= from && at <= to) found.push({ at, cylinder: w.cylinder })
    }
    if (found.length > MOST) return []
  }
  return found
}

/** The cylinder whose event lies nearest to most of the marks; null where nothing says. */
export function beginsWith(cycles: Cycles | null | undefined, marks: readonly number[]): number | null {
  const [first, last] = [marks[0], marks.at(-1)]
  if (first === undefined || last === undefined) return null
  const counts = new Map<number, number>()
  for (const mark of marks.slice(0, MOST)) {
    const i =
      cycles?.starts_s.findIndex((start, n) => start <= mark && mark <= (cycles.ends_s[n] ?? start)) ?? -1
    if (!cycles || i < 0) continue
    const around = eventsIn(
      { ...cycles, starts_s: cycles.starts_s.slice(i, i + 2), ends_s: cycles.ends_s.slice(i, i + 2) },
      { from: cycles.starts_s[i]!, to: cycles.ends_s[i + 1] ?? cycles.ends_s[i]! },
    )
    const near = around.sort((a, b) => Math.abs(a.at - mark) - Math.abs(b.at - mark))[0]
    if (near) counts.set(near.cylinder, (counts.get(near.cylinder) ?? 0) + 1)
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null
}
