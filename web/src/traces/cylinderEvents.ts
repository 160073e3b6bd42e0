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

/** The cylinder at whose event each cycle begins. */
export function beginsWith(cycles: Cycles | null | undefined): number | null {
  return cycles?.windows.find((w) => Math.abs(w.from_deg - cycles.from_deg) < 1)?.cylinder ?? null
}
