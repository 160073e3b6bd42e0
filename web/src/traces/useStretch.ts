import { computed, ref, watch, type Ref } from 'vue'
import { FAST } from './useFolds'
import type { Capture, Stretch } from './useTraces'

/** Samples across the screen at the closest look. */
const CLOSEST = 8

/** Roles that tell nothing while dozens of cycles stand side by side. */
const BY_CYCLE = [...FAST, 'cylinder_pressure']
const MANY_CYCLES = 4

/** What stretch of a capture is looked at, s: closer, wider, along, from cycle to cycle; never outside the capture. */
export function useStretch(capture: Ref<Capture | null | undefined>) {
  const whole = computed<Stretch>(() => {
    const from = capture.value?.start_s ?? 0
    return { from, to: from + (capture.value?.duration_s ?? 1) }
  })
  const stretch = ref<Stretch>({ from: 0, to: 1 })
  const cycle = ref(-1)
  const cycles = computed<Stretch[]>(() => {
    const starts = capture.value?.cycle_starts_s ?? []
    return starts.slice(0, -1).map((from, i) => ({ from, to: starts[i + 1] ?? from }))
  })
  /** Another capture opens as its reader wants it; the same one, loaded again, keeps the stretch somebody looks at. */
  watch(() => capture.value?.id, open, { immediate: true })

  function show(next: Stretch) {
    const rate = capture.value?.rate_hz ?? 1
    const length = whole.value.to - whole.value.from
    const span = Math.min(Math.max(next.to - next.from, CLOSEST / rate), length)
    const from = Math.max(whole.value.from, Math.min(whole.value.to - span, next.from))
    stretch.value = { from, to: from + span }
  }
  /** A later or an earlier cycle, by so many. */
  function step(by: number) {
    if (!cycles.value.length) return
    cycle.value = Math.max(0, Math.min(cycles.value.length - 1, cycle.value + by))
    show(cycles.value[cycle.value]!)
  }
  /** The middle stays; below 1 closer, above 1 wider. */
  function closer(factor: number) {
    const middle = (stretch.value.from + stretch.value.to) / 2
    const half = ((stretch.value.to - stretch.value.from) / 2) * factor
    show({ from: middle - half, to: middle + half })
  }
  /** Along by a share of what is shown. */
  function move(share: number) {
    const { from, to } = stretch.value
    const by = share * (to - from)
    show({ from: from + by, to: to + by })
  }
  /** Sparks, injectors and pressures are read a cycle or two at a time, cranking as a whole. */
  function open() {
    all()
    const roles = capture.value?.channels.filter((c) => !c.sync).map((c) => c.role) ?? []
    const { length } = cycles.value
    if (length < MANY_CYCLES || !roles.some((role) => BY_CYCLE.includes(role))) return
    const middle = Math.floor(length / 2)
    const [first, second] = [cycles.value[middle - 1]!, cycles.value[middle]!]
    const room = 0.03 * (second.to - first.from)
    show({ from: first.from - room, to: second.to + room })
  }
  function all() {
    cycle.value = -1
    stretch.value = { ...whole.value }
  }
  return { whole, stretch, cycle, cycles, show, step, closer, move, all }
}
