import { ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { answer, client, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
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
const FAST = ['secondary_voltage', 'coil_current', 'coil_control', 'injector_current', 'injector_voltage']
export const binsOf = (role: string) => (FAST.includes(role) ? BINS_FAST : BINS_SLOW)

async function binary(
  capture: number,
  position: number,
  bins: number,
  average: boolean,
  signal: AbortSignal,
) {
  const response = await fetch(
    `/api/captures/${capture}/fold/${position}/?bins=${bins}${average ? '&average=1' : ''}`,
    { signal },
  )
  if (!response.ok) throw toProblem(await response.json().catch(() => null), response.status)
  const values = new Float32Array(await response.arrayBuffer())
  const rows = Number(response.headers.get('X-Rows'))
  const width = values.length / rows
  return Array.from({ length: rows }, (_, i) => values.subarray(i * width, (i + 1) * width))
}

/** Cycles of a capture, and the channels of one role folded by them. */
export function useFolds(capture: MaybeRefOrGetter<Capture | null>, role: MaybeRefOrGetter<string>) {
  const cycles = ref<Cycles | null>(null)
  const folds = shallowRef<readonly Fold[]>([])
  const problem = ref<Problem | null>(null)
  watch(
    () => toValue(capture)?.id,
    async (id) => {
      cycles.value = null
      if (!id) return
      try {
        cycles.value = await answer(
          client.GET('/api/captures/{capture_id}/cycles/', { params: { path: { capture_id: id } } }),
        )
      } catch (fault) {
        problem.value = toProblem(fault)
      }
    },
    { immediate: true },
  )
  watch(
    () => [toValue(capture), toValue(role), cycles.value] as const,
    async ([held, wanted, found], _before, onCleanup) => {
      folds.value = []
      if (!held || !wanted || !found?.available) return
      const request = new AbortController()
      onCleanup(() => request.abort())
      try {
        const channels = held.channels.filter((c) => c.role === wanted)
        const read = channels.map(async (c) => {
          const [rows, average] = await Promise.all([
            binary(held.id, c.position, binsOf(wanted), false, request.signal),
            binary(held.id, c.position, binsOf(wanted), true, request.signal),
          ])
          return { position: c.position, cylinder: c.cylinder, rows, average }
        })
        const done = await Promise.all(read)
        if (!request.signal.aborted) folds.value = done
      } catch (fault) {
        if (!request.signal.aborted) problem.value = toProblem(fault)
      }
    },
    { immediate: true },
  )
  return { cycles, folds, problem }
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
