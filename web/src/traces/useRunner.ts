import { useIntervalFn } from '@vueuse/core'
import { computed, ref, toValue, type MaybeRefOrGetter, type Ref } from 'vue'

const PACE_MS = 450
const SLOW_MS = 1500

/** Steps through cycles: by hand up to the ends, or running round at a pace, either way. */
export function useRunner(step: Ref<number>, count: MaybeRefOrGetter<number>) {
  const slow = ref(false)
  const direction = ref<1 | -1>(1)
  const pace = computed(() => (slow.value ? SLOW_MS : PACE_MS))
  const {
    pause,
    resume,
    isActive: playing,
  } = useIntervalFn(() => go(direction.value, true), pace, { immediate: false })

  function go(by: number, round = false) {
    const all = toValue(count)
    if (!all) return
    const next = step.value + by
    step.value = round ? (next + all) % all : Math.max(0, Math.min(all - 1, next))
  }
  /** Run one way; the same way again holds. */
  function play(way: 1 | -1 = 1) {
    const stop = playing.value && direction.value === way
    direction.value = way
    if (stop) pause()
    else resume()
  }
  return { slow, direction, playing, pause, go, play }
}
