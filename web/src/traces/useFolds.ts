import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { unwrap, binary, client, type Schemas } from '@/api/client'
import { useLoaded } from '@/shared/useLoaded'
import type { Capture } from './useTraces'

export type Cycles = Schemas['Cycles']

/** One channel folded by cycle: per cycle lows and highs in turn, `bins` columns each. */
export interface Fold {
  position: number
  cylinder: number | null
  rows: Float32Array[]
  /** Median, 10th and 90th percentile. */
  average: Float32Array[]
}

/** Columns per cycle: sparks and injector edges are far shorter than a degree of crank. */
const BINS_SLOW = 720
const BINS_FAST = 2880
export const FAST = [
  'secondary_voltage',
  'coil_current',
  'coil_control',
  'injector_current',
  'injector_voltage',
]
export const binsOf = (role: string) => (FAST.includes(role) ? BINS_FAST : BINS_SLOW)

async function rowsOf(capture: number, position: number, query: string, signal: AbortSignal) {
  const { all, headers } = await binary(`/api/captures/${capture}/fold/${position}/?${query}`, signal)
  const rows = Number(headers.get('X-Rows'))
  const width = all.length / rows
  return Array.from({ length: rows }, (_, i) => all.subarray(i * width, (i + 1) * width))
}

/** Cycles of a capture, and the channels of one role folded by them. */
export function useFolds(capture: MaybeRefOrGetter<Capture | null>, role: MaybeRefOrGetter<string>) {
  const found = useLoaded(
    'cycles',
    () => toValue(capture)?.id,
    (capture_id, signal) =>
      unwrap(client.GET('/api/captures/{capture_id}/cycles/', { params: { path: { capture_id } }, signal })),
    { keep: false },
  )
  const wanted = computed(() => {
    const [held, asked] = [toValue(capture), toValue(role)]
    return held && asked && found.data.value?.available ? { capture: held, role: asked } : null
  })
  const folded = useLoaded(
    'folds',
    wanted,
    ({ capture: held, role: asked }, signal) => read(held, asked, signal),
    {
      keep: false,
    },
  )
  return {
    cycles: found.data,
    folds: computed<readonly Fold[]>(() => folded.data.value ?? []),
    problem: computed(() => found.problem.value ?? folded.problem.value),
  }
}

async function read(held: Capture, role: string, signal: AbortSignal): Promise<readonly Fold[]> {
  const channels = held.channels.filter((c) => c.role === role)
  return Promise.all(
    channels.map(async (c) => {
      const [rows, average] = await Promise.all([
        rowsOf(held.id, c.position, `bins=${binsOf(role)}`, signal),
        rowsOf(held.id, c.position, `bins=${binsOf(role)}&average=1`, signal),
      ])
      return { position: c.position, cylinder: c.cylinder, rows, average }
    }),
  )
}

/** Lowest and highest value of some lines. */
export function reach(lines: readonly Float32Array[]): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (const line of lines)
    for (const value of line) {
      if (value < low) low = value
      if (value > high) high = value
    }
  if (low > high) return [0, 1]
  const room = Math.max(0.05 * (high - low), 1e-9)
  return [low - room, high + room]
}
