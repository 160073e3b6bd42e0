import { computed, ref, shallowRef, toValue, watch, type MaybeRefOrGetter, type Ref } from 'vue'
import { samples, type Schemas, type Span } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

export type Capture = Schemas['Capture']
export interface Stretch {
  from: number
  to: number
}
export interface View {
  stretch: Readonly<Ref<Stretch>>
}

/** What one channel shows in the window: times and values ready to draw, lows and highs in turn. */
export interface Drawn {
  times: Float64Array
  values: Float32Array
}

/** What was done to a trace before it is shown; nothing of it touches what is stored. */
export interface Treatment {
  over: boolean
  /** The value shown as zero. */
  zero: number
}
export const UNTOUCHED: Treatment = { over: false, zero: 0 }

/** Room fetched on either side, in widths of the window, so that moving it shows samples at once. */
const ROOM = 0.5
/** Between two requests, so that drawing keeps its share of the machine. */
const PAUSE_MS = 120
/** A window this much wider than what is shown is too coarse to look closer with. */
const COARSE = 1.6

interface Held {
  capture: Capture
  corner: number
  from: number
  to: number
  span: Span
  times: Float64Array
}

function timesOf(span: Span, capture: Capture): Float64Array {
  const perValue = (span.step > 1 ? span.step / 2 : 1) / capture.rate_hz
  const begin = capture.start_s + span.first / capture.rate_hz
  return Float64Array.from({ length: span.rows[0]?.length ?? 0 }, (_, i) => begin + i * perValue)
}
function treated(values: Float32Array, { over, zero }: Treatment): Float32Array {
  return over || zero ? values.map((v) => (over ? zero - v : v - zero)) : values
}

/**
 * Samples of all channels for a stretch of time, in one request. While one is under way only the newest wish is kept,
 * so a hand that keeps moving sees pictures instead of cancelled ones.
 */
export function useTraces(
  capture: MaybeRefOrGetter<Capture | null>,
  stretch: MaybeRefOrGetter<Stretch>,
  columns: number,
  corner: MaybeRefOrGetter<number> = 0,
  treatment: (position: number) => Treatment = () => UNTOUCHED,
) {
  const held = shallowRef<Held | null>(null)
  const problem = ref<Problem | null>(null)
  let busy = false
  let asked: { capture: Capture; corner: number; from: number; to: number } | null = null

  function enough(now: Capture, { from, to }: Stretch, hertz: number): boolean {
    const had = held.value
    if (!had || had.capture.id !== now.id || had.corner !== hertz) return false
    const end = now.start_s + now.duration_s
    const covered = had.from <= Math.max(from, now.start_s) && had.to >= Math.min(to, end)
    const fine = had.span.step === 1 || had.to - had.from <= (1 + 2 * ROOM) * COARSE * (to - from)
    return covered && fine
  }
  async function fetchLatest() {
    busy = true
    while (asked) {
      const { capture: of, corner: corner_hz, from, to } = asked
      asked = null
      const room = ROOM * (to - from)
      const [begin, end] = [
        Math.max(of.start_s, from - room),
        Math.min(of.start_s + of.duration_s, to + room),
      ]
      try {
        const span = await samples(of.id, {
          from_s: begin - of.start_s,
          to_s: end - of.start_s,
          points: Math.ceil((columns * (end - begin)) / Math.max(to - from, 1e-9)),
          ...(corner_hz ? { corner_hz } : {}),
        })
        if (toValue(capture)?.id === of.id)
          held.value = {
            capture: of,
            corner: corner_hz,
            from: begin,
            to: end,
            span,
            times: timesOf(span, of),
          }
        problem.value = null
      } catch (fault) {
        problem.value = toProblem(fault)
      }
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS))
    }
    busy = false
  }
  watch(
    () => [toValue(capture), toValue(stretch), toValue(corner)] as const,
    ([now, { from, to }, corner_hz]) => {
      if (!now || enough(now, { from, to }, corner_hz)) return
      asked = { capture: now, corner: corner_hz, from, to }
      if (!busy) void fetchLatest()
    },
    { immediate: true },
  )
  const traces = computed<readonly Drawn[]>(() => {
    const now = held.value
    if (!now || now.capture.id !== toValue(capture)?.id) return []
    return now.capture.channels.map((c, i) => ({
      times: now.times,
      values: treated(now.span.rows[i] ?? new Float32Array(), treatment(c.position)),
    }))
  })
  return { traces, problem }
}
