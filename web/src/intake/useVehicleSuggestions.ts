import { watchDebounced } from '@vueuse/core'
import { shallowRef, type Ref } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

export type KnownVehicle = Schemas['Vehicle']

/** Vehicles that were here before and match the letters typed; the one that was chosen, until the name is changed. */
export function useVehicleSuggestions(name: Ref<string>) {
  const suggestions = shallowRef<readonly KnownVehicle[]>([])
  const chosen = shallowRef<KnownVehicle | null>(null)
  watchDebounced(
    name,
    async (letters) => {
      if (letters === chosen.value?.name) return void (suggestions.value = [])
      chosen.value = null
      if (!letters.trim()) return void (suggestions.value = [])
      suggestions.value = await unwrap(
        client.GET('/api/vehicles/', { params: { query: { letters } } }),
      ).catch(() => [])
    },
    { debounce: 150 },
  )
  function choose(vehicle: KnownVehicle) {
    chosen.value = vehicle
    name.value = vehicle.name
    suggestions.value = []
  }
  return { suggestions, chosen, choose }
}
