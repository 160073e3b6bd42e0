import { computed, ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { answer, client, type Schemas } from '@/api/client'
import { toProblem } from '@/api/problems'
import { wordFor } from '@/shared/words'
import { useFolds, type Cycles } from './useFolds'
import type { Capture } from './useTraces'

/** What a capture can be laid beside: others of its case, and what is known good for such an engine. */
export function useComparable(capture: MaybeRefOrGetter<Capture | null>) {
  const comparable = ref<Schemas['Comparable'][]>([])
  watch(
    () => toValue(capture)?.id,
    async (capture_id) => {
      comparable.value = []
      if (!capture_id) return
      const path = { capture_id }
      comparable.value = await answer(
        client.GET('/api/captures/{capture_id}/comparable/', { params: { path } }),
      ).catch(() => [])
    },
    { immediate: true },
  )
  return comparable
}

/** The averaged cycle of another capture, turned so that the same cylinder begins it as in this one. */
export function useUnderneath(cycles: MaybeRefOrGetter<Cycles | null>, role: MaybeRefOrGetter<string>) {
  const chosen = ref<number | null>(null)
  const other = shallowRef<Capture | null>(null)
  const { cycles: theirs, folds, problem } = useFolds(other, role)
  watch(chosen, async (id) => {
    other.value = null
    if (id === null || id === undefined) return
    try {
      other.value = await answer(
        client.GET('/api/captures/{capture_id}/', { params: { path: { capture_id: id } } }),
      )
    } catch (fault) {
      problem.value = toProblem(fault)
    }
  })
  const below = computed(() => {
    const first = toValue(cycles)?.windows[0]
    const same = theirs.value?.windows.find((w) => w.cylinder === first?.cylinder)
    if (!first || !same) return []
    return folds.value.map((fold) => {
      const by = (same.from_deg - (theirs.value?.from_deg ?? 0)) / 720
      const turned = (line: Float32Array) => {
        const shift = Math.round(by * line.length)
        return Float32Array.from(line, (_, i) => line[(i + shift) % line.length]!)
      }
      return { cylinder: fold.cylinder, average: fold.average.map(turned) }
    })
  })
  const words = computed(() => {
    if (theirs.value && !theirs.value.available) return theirs.value.why_not
    if (other.value && !other.value.channels.some((c) => c.role === toValue(role)))
      return `It holds no ${wordFor('roles', toValue(role)).toLowerCase()}.`
    return 'averaged, aligned by the crank angle of the same cylinder'
  })
  return { chosen, other, below, words, problem }
}
