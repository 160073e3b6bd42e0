import { readonly, ref, shallowRef, watch, type MaybeRefOrGetter, toValue } from 'vue'
import { toProblem, type Problem } from '@/api/problems'

/** Something loaded for a key. A newer key cancels the older request, so a late answer never shows. */
export function useLoaded<K, T>(key: MaybeRefOrGetter<K>, load: (key: K, signal: AbortSignal) => Promise<T>) {
  const data = shallowRef<T | null>(null)
  const problem = ref<Problem | null>(null)
  const busy = ref(false)
  const turn = ref(0)

  watch(
    [() => toValue(key), turn],
    async ([wanted], _before, onCleanup) => {
      const request = new AbortController()
      onCleanup(() => request.abort())
      busy.value = true
      problem.value = null
      try {
        const answer = await load(wanted as K, request.signal)
        if (!request.signal.aborted) data.value = answer
      } catch (fault) {
        if (!request.signal.aborted) problem.value = toProblem(fault)
      } finally {
        if (!request.signal.aborted) busy.value = false
      }
    },
    { immediate: true },
  )
  return { data, problem: readonly(problem), busy: readonly(busy), reload: () => turn.value++ }
}
