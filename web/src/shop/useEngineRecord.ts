import { computed, ref, shallowRef, watch } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { fillEngine } from '@/intake/useEngineSuggestions'
import type { TypedEngine } from '@/intake/useEngineCheck'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'

export type Circuit = Schemas['Circuit']
export type Place = Schemas['WirePlace']
export interface Draft {
  variant_of: string
  years: string
  code: string
  notes: string
  wiring: Circuit[]
  usual: Schemas['UsualValue'][]
}
const NEW: TypedEngine = {
  label: '',
  cylinders: 4,
  firing_order: '1 3 4 2',
  fuel: 'petrol',
  ignition: 'coil_on_plug',
  injection: 'port',
}

/** A record as it is written: what it says with what it inherits, and the body that keeps it. */
export function useEngineRecord(id: () => number | null, kept: (record: number) => void) {
  const {
    data: record,
    problem,
    reload,
  } = useLoaded(
    'engine-record',
    () => id() ?? undefined,
    (record_id, signal) =>
      unwrap(client.GET('/api/engine-records/{record_id}/', { params: { path: { record_id } }, signal })),
    { keep: false },
  )
  const { data: all } = useLoaded('engine-records', '', (letters, signal) =>
    unwrap(client.GET('/api/engine-records/', { params: { query: { letters } }, signal })),
  )
  const others = computed(() => (all.value ?? []).filter((row) => row.id !== id()))
  const typed = ref<TypedEngine>({ ...NEW })
  const draft = ref<Draft | null>(id() === null ? blank() : null)
  const { problem: refusal, busy, attempt } = useAttempt()
  const shown = shallowRef<number | null>(null)

  watch(
    record,
    (told) => {
      if (!told || shown.value === told.changes) return
      shown.value = told.changes
      const form = { ...NEW }
      fillEngine(form, told.whole as never, told.label)
      typed.value = form
      draft.value = {
        variant_of: told.variant_of,
        years: told.years,
        code: told.code,
        notes: told.notes,
        wiring: told.wiring.map(copied),
        usual: told.usual.map((row) => ({ ...row })),
      }
    },
    { immediate: true },
  )
  const keep = () =>
    attempt(async () => {
      const body = bodyOf(typed.value, draft.value!)
      const record_id = id()
      const told = record_id
        ? await unwrap(
            client.POST('/api/engine-records/{record_id}/', { params: { path: { record_id } }, body }),
          )
        : await unwrap(client.POST('/api/engine-records/', { body }))
      record.value = told
      kept(told.id)
    })
  return { record, others, draft, typed, problem, refusal, busy, reload, keep }
}

function blank(): Draft {
  return { variant_of: '', years: '', code: '', notes: '', wiring: [], usual: [] }
}
const copied = (circuit: Circuit): Circuit => ({
  ...circuit,
  places: circuit.places.map((place) => ({ ...place })),
})

/** What is sent: the engine with its wiring, without places and values nobody named. */
export function bodyOf(typed: TypedEngine, draft: Draft) {
  const { label, ...engine } = typed
  const wiring = draft.wiring
    .map((circuit) => ({ ...circuit, places: circuit.places.filter((place) => place.name.trim()) }))
    .filter((circuit) => circuit.places.length)
  return {
    label,
    variant_of: draft.variant_of ?? '',
    years: draft.years,
    code: draft.code,
    notes: draft.notes,
    engine: { ...engine, ...(wiring.length ? { wiring, injector_path: undefined } : {}) } as Record<
      string,
      unknown
    >,
    usual: draft.usual.filter((row) => row.words.trim() && row.value.trim()),
  }
}

/** Groups of cylinders as they are typed: "1 4 / 2 3". */
export function grouped(groups: string | number[][] | undefined): string {
  return typeof groups === 'string' ? groups : (groups ?? []).map((group) => group.join(' ')).join(' / ')
}
