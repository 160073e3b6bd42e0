import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useLoaded } from '@/shared/useLoaded'
import type { Capture } from './useTraces'

export type PressureReference = Schemas['PressureReference']

/** The computed pressure of every cylinder of a pressure capture, and its valve events; empty for other captures. */
export function usePressure(capture: MaybeRefOrGetter<Capture | null>, role: MaybeRefOrGetter<string>) {
  const wanted = computed(() => (toValue(role) === 'cylinder_pressure' ? toValue(capture)?.id : undefined))
  const { data } = useLoaded(
    'pressure',
    wanted,
    (capture_id, signal) =>
      unwrap(
        client.GET('/api/captures/{capture_id}/pressure/', { params: { path: { capture_id } }, signal }),
      ),
    { keep: false },
  )
  const found = computed<readonly PressureReference[]>(() => data.value ?? [])
  const of = (position: number) => found.value.find((r) => r.position === position)
  return {
    found,
    line: (position: number) => {
      const values = of(position)?.values
      return values ? Float32Array.from(values) : null
    },
    /** Valve events as rules: where they were found, and how far from where they belong. */
    rules: (position: number) =>
      (of(position)?.marks ?? [])
        .filter((m) => m.measured_at !== null)
        .map((m) => {
          const off =
            m.usual_deg === null || m.measured_deg === null ? null : Math.round(m.measured_deg - m.usual_deg)
          const apart =
            off === null || Math.abs(off) < 15 ? '' : off > 0 ? `, ${off}° late` : `, ${-off}° early`
          return { at: m.measured_at!, words: `${m.name}${apart}` }
        }),
    words: (position: number) => {
      const own = of(position)
      return own ? `peak ${own.measured_peak_bar} bar absolute, computed ${own.peak_bar}` : ''
    },
  }
}
