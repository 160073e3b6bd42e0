import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'

export type Board = Schemas['Board']

/** One visit of a vehicle, and what may be written down of it; every answer is the whole of it anew. */
export function useVisit(caseId: MaybeRefOrGetter<number>) {
  const loaded = useLoaded('visit', caseId, (case_id, signal) =>
    unwrap(client.GET('/api/cases/{case_id}/', { params: { path: { case_id } }, signal })),
  )
  const { problem: refusal, busy, attempt } = useAttempt()
  const params = () => ({ path: { case_id: toValue(caseId) } })
  const keep = (call: () => Promise<Board>) =>
    attempt(async () => {
      loaded.data.value = await call()
    })
  return {
    board: loaded.data,
    problem: loaded.problem,
    reload: loaded.reload,
    refusal,
    busy,
    may: computed(
      () => loaded.data.value?.case.status === 'open' && loaded.data.value.case.may.includes('add_evidence'),
    ),
    amend: (body: Schemas['SaidRequest']) =>
      keep(() => unwrap(client.POST('/api/cases/{case_id}/said/', { params: params(), body }))),
    tried: (body: Schemas['TriedRequest']) =>
      keep(() => unwrap(client.POST('/api/cases/{case_id}/tried/', { params: params(), body }))),
    codesRead: (body: Schemas['CodesReadRequest']) =>
      keep(() => unwrap(client.POST('/api/cases/{case_id}/codes/', { params: params(), body }))),
    codesCleared: (words: string) =>
      keep(() =>
        unwrap(client.POST('/api/cases/{case_id}/codes/cleared/', { params: params(), body: { words } })),
      ),
    clock: (running: boolean) =>
      keep(() => unwrap(client.POST('/api/cases/{case_id}/clock/', { params: params(), body: { running } }))),
    part: (body: Schemas['PartGivenRequest']) =>
      keep(() => unwrap(client.POST('/api/cases/{case_id}/parts/', { params: params(), body }))),
    notes: (vehicle_id: number, notes: string) =>
      attempt(async () => {
        await unwrap(
          client.POST('/api/vehicles/{vehicle_id}/', { params: { path: { vehicle_id } }, body: { notes } }),
        )
        loaded.reload()
      }),
  }
}
