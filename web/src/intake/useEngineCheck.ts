import { watchDebounced } from '@vueuse/core'
import { ref, shallowRef, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'

/** An engine as it is typed. */
export interface TypedEngine {
  label: string
  cylinders: number
  firing_order: string
  fuel: string
  ignition: string
  injection: string
  layout?: string
  firing_intervals_deg?: number[]
  /** Groups as they are typed, or as they came. */
  banks?: string | number[][]
  coil_pairs?: string | number[][]
  compression_ratio?: number
  injector_ohms?: number
  injector_drive?: string
  crank_wheel?: unknown
  injector_feeds?: string
  injector_path?: string
  high_voltage_vehicle?: boolean
  coil_driver?: 'control_unit' | 'coil'
  prohibited?: string[]
}

export type EngineChecked = Schemas['EngineCheck']

/** The server's word on an engine while it is typed; the core holds the rules. */
export function useEngineCheck(typed: MaybeRefOrGetter<TypedEngine>) {
  const check = shallowRef<EngineChecked | null>(null)
  const busy = ref(false)
  let turn = 0
  watchDebounced(
    () => JSON.stringify(toValue(typed)),
    async (block) => {
      const mine = ++turn
      busy.value = true
      const answered = await unwrap(
        client.POST('/api/engines/check/', { body: { engine: JSON.parse(block) } }),
      ).catch(() => null)
      if (mine !== turn) return
      check.value = answered
      busy.value = false
    },
    { debounce: 120, immediate: true },
  )
  return { check, busy }
}
