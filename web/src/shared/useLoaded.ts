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

/** The last answers, shown again only while the server does not answer; gone with the page or the log-out. */
const last = new Map<string, unknown>()
const REMEMBERED = 40
function remember<T>(key: string, answer: T): T {
  last.delete(key)
  last.set(key, answer)
  if (last.size > REMEMBERED) last.delete(last.keys().next().value!)
  return answer
}
export function forgetAll(): void {
  last.clear()
}
/** Ask for something that will be wanted where there may be no connection. */
export async function fetchAhead<T>(name: string, key: unknown, load: () => Promise<T>): Promise<void> {
  await load().then(
    (answer) => remember(JSON.stringify([name, key]), answer),
    () => undefined,
  )
}

/** The answer to a question; where the server cannot be reached, the last one. */
function answered<K, T>(
  name: string,
  key: K,
  load: (key: K, signal: AbortSignal) => Promise<T>,
  signal: AbortSignal,
): Promise<T> {
  const known = JSON.stringify([name, key])
  return load(key, signal).then(
    (answer) => remember(known, answer),
    (fault: unknown) => {
      if (toProblem(fault).code === 'unreachable' && last.has(known)) return last.get(known) as T
      throw fault
    },
  )
}

/** Begin to ask for what a view will show while its script is still on the way; the view joins in. */
export function askSoon<K, T>(name: string, key: K, load: (key: K, signal: AbortSignal) => Promise<T>): void {
  void queries.prefetchQuery({
    queryKey: [name, key],
    queryFn: ({ signal }) => answered(name, key, load, signal),
  })
}

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
    queryFn: ({ queryKey: [, wanted], signal }) => answered(name, wanted as K, load, signal),
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
