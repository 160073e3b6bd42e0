import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import type { Line } from './FoldPlot.vue'
import { tamed, type Scaling } from './scaling'
import { binsOf, reach, type Cycles, type Fold } from './useFolds'

const STROKES = ['power', 'exhaust', 'intake', 'compression']

interface Shown {
  cycles: MaybeRefOrGetter<Cycles | null>
  folds: MaybeRefOrGetter<readonly Fold[]>
  /** The averaged cycle of the other capture, turned to the same cylinder. */
  below: MaybeRefOrGetter<readonly { cylinder: number | null; average: Float32Array[] }[]>
  role: MaybeRefOrGetter<string>
  picked: MaybeRefOrGetter<number | null>
  /** Share of a cylinder's window that is shown; its event keeps its place however close the look. */
  share: MaybeRefOrGetter<number>
  /** How the rows share their scale. */
  scaling: MaybeRefOrGetter<Scaling>
  current: MaybeRefOrGetter<number>
  look: MaybeRefOrGetter<string>
}

/** What every look at a folded capture draws: lines, scales, rules, and values under the cursors. */
export function useCyclePictures({
  cycles,
  folds,
  below,
  role,
  picked,
  share,
  scaling,
  current,
  look,
}: Shown) {
  const windows = computed(() => toValue(cycles)?.windows ?? [])
  /** The channel that shows a cylinder: its own, or the shared one. */
  const foldOf = (cylinder: number): Fold | undefined =>
    toValue(folds).find((f) => f.cylinder === cylinder) ?? toValue(folds).find((f) => f.cylinder === null)
  function cut(row: Float32Array, fromDeg: number, toDeg: number): Float32Array {
    const start = toValue(cycles)?.from_deg ?? 0
    const at = (deg: number) => 2 * Math.round(((deg - start) / 720) * binsOf(toValue(role)))
    return row.subarray(at(fromDeg), at(toDeg))
  }
  const lead = computed(() => toValue(cycles)?.from_deg ?? 0)
  /** What is shown of a window, in degrees from its event. A share cut from its beginning would lose the event. */
  function closeUp(window: { from_deg: number; to_deg: number }): [number, number] {
    const from = toValue(share) * lead.value
    return [from, from + toValue(share) * (window.to_deg - window.from_deg)]
  }
  const events = computed(() =>
    windows.value.map((w) => {
      const [from, to] = closeUp(w)
      const event = w.from_deg - lead.value
      return {
        ...w,
        shown: [from, to] as const,
        lines: (foldOf(w.cylinder)?.rows ?? []).map((row) => cut(row, event + from, event + to)),
      }
    }),
  )
  const everything = computed(() =>
    reach([...toValue(folds).flatMap((f) => f.rows), ...toValue(below).map((f) => f.average[0]!)]),
  )
  const averages = computed(() => reach([...toValue(folds), ...toValue(below)].flatMap((f) => f.average)))
  const overlay = computed<Line[]>(() =>
    events.value.flatMap((e) =>
      e.lines.map((values) => ({
        values,
        pairs: true,
        tone: e.cylinder === toValue(picked) ? ('picked' as const) : ('faint' as const),
        span: e.shown,
      })),
    ),
  )
  const widest = computed<readonly [number, number]>(() => [
    toValue(share) * lead.value,
    Math.max(0, ...events.value.map((e) => e.shown[1])),
  ])
  const scales = computed(() => {
    const cut = tamed(events.value.filter((e) => e.lines.length).map((e) => reach(e.lines)))
    return { same: () => everything.value, tamed: () => cut, own: reach }
  })
  const rows = computed(() =>
    events.value.map((e) => ({
      ...e,
      drawn: e.lines.map((values) => ({
        values,
        pairs: true,
        tone: e.cylinder === toValue(picked) ? ('picked' as const) : ('faint' as const),
      })),
      reach: scales.value[toValue(scaling)](e.lines),
    })),
  )
  const ruler = computed(() =>
    STROKES.map((words, i) => ({
      at: 180 * i,
      words: `${180 * i}° ${words} ${windows.value[0]?.cylinder ?? ''}`,
    })),
  )
  const columns = computed(() =>
    windows.value.map((w) => ({ at: w.from_deg - lead.value, words: `cylinder ${w.cylinder}` })),
  )
  const belowLines = computed<Line[]>(() =>
    toValue(below).map((f) => ({ values: f.average[0]!, pairs: false, tone: 'faint' as const })),
  )
  const oneCycle = computed<Line[]>(() => [
    ...belowLines.value,
    ...toValue(folds).map((f) => ({
      values: f.rows[toValue(current)] ?? new Float32Array(),
      pairs: true,
      tone: f.cylinder !== null && f.cylinder === toValue(picked) ? ('picked' as const) : ('plain' as const),
    })),
  ])
  const rpm = computed(() => {
    const c = toValue(cycles)
    const seconds = (c?.ends_s[toValue(current)] ?? 0) - (c?.starts_s[toValue(current)] ?? 0)
    return seconds > 0 ? 120 / seconds : 0
  })
  /** The value of a line of single values or of pairs at a crank angle. */
  function valueAt(values: Float32Array | undefined, pairs: boolean, degrees: number): number | undefined {
    if (!values?.length) return undefined
    const columns = pairs ? values.length / 2 : values.length
    const i = Math.floor(((degrees - lead.value) / 720) * columns)
    if (i < 0 || i >= columns) return undefined
    return pairs ? (values[2 * i]! + values[2 * i + 1]!) / 2 : values[i]
  }
  const readable = computed(() => {
    if (toValue(look) !== 'cycle' && toValue(look) !== 'average') return []
    const whose = (cylinder: number | null) => (cylinder === null ? 'this' : `cylinder ${cylinder}`)
    const mine = toValue(folds)
      .filter((f) => toValue(picked) === null || f.cylinder === null || f.cylinder === toValue(picked))
      .map((f) => ({
        words: whose(f.cylinder),
        at: (degrees: number) =>
          toValue(look) === 'cycle'
            ? valueAt(f.rows[toValue(current)], true, degrees)
            : valueAt(f.average[0], false, degrees),
      }))
    const theirs = toValue(below)
      .slice(0, 1)
      .map((f) => ({
        words: 'underneath',
        at: (degrees: number) => valueAt(f.average[0], false, degrees),
      }))
    return [...mine, ...theirs]
  })
  /** The averaged cycle of one side; the other side's lines belong to the same cylinder, or to the shared channel. */
  function sideOf(side: 'this' | 'other', i: number): Float32Array[] {
    const mine = toValue(folds)[i]
    if (side === 'this') return mine?.average ?? []
    return (toValue(below).find((f) => f.cylinder === mine?.cylinder) ?? toValue(below)[i])?.average ?? []
  }
  function besideLines(side: 'this' | 'other', i: number): Line[] {
    const middle = sideOf(side, i)[0]
    return middle ? [{ values: middle, pairs: false, tone: 'plain' }] : []
  }
  function besideBand(side: 'this' | 'other', i: number) {
    const [, low, high] = sideOf(side, i)
    return low && high ? { low, high } : undefined
  }
  return {
    windows,
    everything,
    averages,
    overlay,
    widest,
    lead,
    rows,
    ruler,
    columns,
    belowLines,
    oneCycle,
    rpm,
    readable,
    besideLines,
    besideBand,
  }
}
