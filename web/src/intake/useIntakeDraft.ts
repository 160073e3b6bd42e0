import { ref, watch, type Ref } from 'vue'

/** Fields of a form that outlive leaving its page. */
export type Fields = Record<string, Ref<unknown>>

/**
 * What is typed at intake stays in this window until the case is started, also when the page is left. What a person
 * typed is put before nobody else: the key names them.
 */
export function useIntakeDraft(who: string, fields: Fields, store: Storage = sessionStorage) {
  const key = `fair-witness-intake ${who}`
  const empty = JSON.stringify(valuesOf(fields))
  const restored = ref(false)
  const kept = read(store, key)
  if (kept) {
    for (const [name, field] of Object.entries(fields)) if (name in kept) field.value = kept[name]
    restored.value = true
  }
  const stop = watch(
    () => JSON.stringify(valuesOf(fields)),
    (now) => (now === empty ? store.removeItem(key) : store.setItem(key, now)),
  )
  function fill(values: Record<string, unknown>) {
    for (const [name, field] of Object.entries(fields)) field.value = values[name]
  }
  return {
    /** Something typed before stands in the form again. */
    restored,
    startEmpty() {
      fill(JSON.parse(empty) as Record<string, unknown>)
      restored.value = false
    },
    /** The case was started: nothing is left to keep. */
    done() {
      stop()
      store.removeItem(key)
    },
  }
}

function valuesOf(fields: Fields): Record<string, unknown> {
  return Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, field.value]))
}
function read(store: Storage, key: string): Record<string, unknown> | null {
  try {
    const kept: unknown = JSON.parse(store.getItem(key) ?? 'null')
    return kept && typeof kept === 'object' ? (kept as Record<string, unknown>) : null
  } catch {
    return null
  }
}
