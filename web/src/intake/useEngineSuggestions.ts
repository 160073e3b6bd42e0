import { watchDebounced } from '@vueuse/core'
import { shallowRef, type Ref } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import type { TypedEngine } from './useEngineCheck'

type Suggestion = Schemas['EngineSuggestion']

const SUGGESTED = 4
/** What another engine may have brought along and the next one may not have. */
const FORGOTTEN = { banks: undefined, coil_pairs: undefined, firing_intervals_deg: undefined }

/** Put a known engine into the form, its lists as they are typed. */
export function fillEngine(form: TypedEngine, known: Suggestion['engine'], label: string) {
  Object.assign(form, FORGOTTEN, known, {
    firing_order: known.firing_order.join(' '),
    injector_feeds: known.injector_feeds?.map((feed) => feed.join(' ')).join(' / '),
    injector_path: known.injector_path?.join(' > '),
    label,
  })
}

/** Known engines that match the letters typed; taking one fills the form. */
export function useEngineSuggestions(engine: Ref<TypedEngine>) {
  const suggestions = shallowRef<readonly Suggestion[]>([])
  let taken = ''
  watchDebounced(
    () => engine.value.label,
    async (letters) => {
      if (!letters.trim() || letters === taken) return void (suggestions.value = [])
      const found = await unwrap(client.GET('/api/engines/', { params: { query: { letters } } })).catch(
        () => [],
      )
      suggestions.value = found.slice(0, SUGGESTED)
    },
    { debounce: 150 },
  )
  function take({ engine: known, label, own }: Suggestion) {
    fillEngine(engine.value, known, own ? label : '')
    taken = engine.value.label
    suggestions.value = []
  }
  return { suggestions, take }
}
