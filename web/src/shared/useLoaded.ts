import { keepPreviousData, QueryClient, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { toProblem } from '@/api/problems'

/** One store of what was loaded; evidence is never shown from memory while a newer answer may exist. */
export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      gcTime: 0,
      retry: false,
      refetchOnWindowFocus: false,
      networkMode: 'always',
      structuralSharing: false,
    },
  },
})

interface Options {
  /** Show the answer for the key before until the new one has come, as where a list is narrowed down. */
  keep?: boolean
}

/**
 * Something loaded for a key. A newer key cancels the older request, so a late answer never shows. Nothing is asked
 * while the key is null or undefined.
 */
export function useLoaded<K, T>(
  name: string,
  key: MaybeRefOrGetter<K | null | undefined>,
  load: (key: K, signal: AbortSignal) => Promise<T>,
  { keep = true }: Options = {},
) {
  const store = useQueryClient()
  const queryKey = computed(() => [name, toValue(key)] as const)
  const query = useQuery({
    queryKey,
    queryFn: ({ queryKey: [, wanted], signal }) => load(wanted as K, signal),
    enabled: () => queryKey.value[1] !== null && queryKey.value[1] !== undefined,
    placeholderData: keep ? keepPreviousData : undefined,
    shallow: true,
  })
  const data = computed<T | null>({
    get: () => (query.data.value as T | undefined) ?? null,
    set: (value) => store.setQueryData(queryKey.value, value),
  })
  return {
    data,
    problem: computed(() => (query.error.value ? toProblem(query.error.value) : null)),
    busy: computed(() => query.isFetching.value),
    reload: () => void query.refetch(),
  }
}

/** Ask again for everything that is shown, as after another unit was chosen. */
export function reloadAll(): Promise<void> {
  return queries.invalidateQueries()
}
