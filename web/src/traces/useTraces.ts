import { ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { samples, type Schemas, type Span } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

export type Capture = Schemas['Capture']

/** What one channel shows in the window: times and values ready to draw, lows and highs in turn. */
export interface Drawn {
  times: Float64Array
  values: Float32Array
}

function drawn(span: Span, capture: Capture, over: boolean): Drawn {
  const { first, step } = span
  const values = over ? span.values.map((v) => -v) : span.values
  const times = new Float64Array(values.length)
  const perValue = step > 1 ? step / 2 : 1
  for (let i = 0; i < values.length; i++)
    times[i] = capture.start_s + (first + i * perValue) / capture.rate_hz
  return { times, values }
}

/** Samples of all channels for a stretch of time; a newer stretch cancels the older request. */
export function useTraces(
  capture: MaybeRefOrGetter<Capture | null>,
  stretch: MaybeRefOrGetter<{ from: number; to: number }>,
  points: number,
  corner: MaybeRefOrGetter<number> = 0,
  flipped: MaybeRefOrGetter<readonly number[]> = [],
) {
  const traces = shallowRef<readonly Drawn[]>([])
  const problem = ref<Problem | null>(null)
  watch(
    () => [toValue(capture), toValue(stretch), toValue(corner), toValue(flipped)] as const,
    async ([held, { from, to }, corner_hz, over], _before, onCleanup) => {
      if (!held) return
      const request = new AbortController()
      onCleanup(() => request.abort())
      problem.value = null
      const window = {
        from_s: from - held.start_s,
        to_s: to - held.start_s,
        points,
        ...(corner_hz ? { corner_hz } : {}),
      }
      try {
        const spans = await Promise.all(
          held.channels.map((c) => samples(held.id, c.position, window, request.signal)),
        )
        if (!request.signal.aborted)
          traces.value = spans.map((span, i) => drawn(span, held, over.includes(held.channels[i]!.position)))
      } catch (fault) {
        if (!request.signal.aborted) problem.value = toProblem(fault)
      }
    },
    { immediate: true },
  )
  return { traces, problem }
}
