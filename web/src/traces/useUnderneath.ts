import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap } from '@/api/client'
import { useLoaded } from '@/shared/useLoaded'
import { wordFor } from '@/shared/words'
import { useFolds, type Cycles } from './useFolds'
import type { Capture } from './useTraces'

/** What a capture can be laid beside: others of its case, and what is known good for such an engine. */
export function useComparable(capture: MaybeRefOrGetter<Capture | null>) {
  const { data } = useLoaded(
    'comparable',
    () => toValue(capture)?.id,
    (capture_id, signal) =>
      unwrap(
        client.GET('/api/captures/{capture_id}/comparable/', { params: { path: { capture_id } }, signal }),
      ),
    { keep: false },
  )
  return computed(() => data.value ?? [])
}

/** The averaged cycle of another capture, turned so that the same cylinder begins it as in this one. */
export function useUnderneath(cycles: MaybeRefOrGetter<Cycles | null>, role: MaybeRefOrGetter<string>) {
  const chosen = ref<number | null>(null)
  const { data: other, problem: unreached } = useLoaded(
    'capture',
    chosen,
    (capture_id, signal) =>
      unwrap(client.GET('/api/captures/{capture_id}/', { params: { path: { capture_id } }, signal })),
    { keep: false },
  )
  const { cycles: theirs, folds, problem: unfolded } = useFolds(other, role)
  const problem = computed(() => unreached.value ?? unfolded.value)
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
