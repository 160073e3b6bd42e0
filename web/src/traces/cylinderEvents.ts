import type { Cycles } from './useFolds'
import type { Capture, Stretch } from './useTraces'

type Channel = Pick<Capture['channels'][number], 'name' | 'role'>

/** A moment at which a cylinder fires, or would. */
export interface CylinderEvent {
  at: number
  cylinder: number
}
/** A quarter of the cycle of one cylinder. */
export interface Stroke {
  from: number
  to: number
  words: string
}
/** After a cylinder fired, in this order. */
const STROKES = ['power', 'exhaust', 'intake', 'compression']
/** More numbers than this across the screen would stand on each other. */
const MOST = 48

/** The events of all cylinders, cycle by cycle; none where nothing marks a cycle. */
export function eventsOf(cycles: Cycles | null | undefined): CylinderEvent[] {
  if (!cycles?.available) return []
  return cycles.starts_s.flatMap((start, i) =>
    cycles.windows.map((w) => ({
      // A window opens a little before its event, as the folded axis does before the first one.
      at: start + ((w.from_deg - cycles.from_deg) / 720) * ((cycles.ends_s[i] ?? start) - start),
      cylinder: w.cylinder,
    })),
  )
}

/** Those within a stretch of time; none where there are too many to be read. */
export function eventsIn(events: readonly CylinderEvent[], { from, to }: Stretch): CylinderEvent[] {
  const found = events.filter(({ at }) => at >= from && at <= to)
  return found.length > MOST ? [] : found
}

/** Events of ignition say where cylinders fire; those of an injector only whose turn it is. */
const IGNITION = ['coil_control', 'coil_current', 'secondary_voltage']

/** Whether the events of cycles are where cylinders fire, on the right turn of the crank. */
export function areFirings(cycles: Cycles | null | undefined, channels: readonly Channel[]): boolean {
  const sync = channels.find((channel) => channel.name === cycles?.sync)
  return !!cycles?.certain && !!sync && IGNITION.includes(sync.role)
}

/** The strokes of one cylinder, counted from where it fires. */
export function strokesOf(events: readonly CylinderEvent[], cylinder: number): Stroke[] {
  const fired = events.filter((event) => event.cylinder === cylinder).map(({ at }) => at)
  let quarter = 0
  return fired
    .flatMap((at, i) => {
      const next = fired[i + 1]
      if (next !== undefined) quarter = (next - at) / STROKES.length // the last cycle is as long as the one before
      return STROKES.map((words, n) => ({ from: at + n * quarter, to: at + (n + 1) * quarter, words }))
    })
    .filter((stroke) => stroke.to > stroke.from)
}

/** The cylinder whose event lies nearest to a mark in the middle of a measurement; null where nothing says. */
export function beginsWith(events: readonly CylinderEvent[], marks: readonly number[]): number | null {
  const mark = marks[marks.length >> 1]
  if (mark === undefined || !events.length) return null
  const away = ({ at }: CylinderEvent) => Math.abs(at - mark)
  return events.reduce((near, one) => (away(one) < away(near) ? one : near)).cylinder
}
