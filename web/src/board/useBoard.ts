import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, upload, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import { useLoaded } from '@/shared/useLoaded'
import { BOARD, loadBoard } from './loadBoard'

export type Board = Schemas['Board']
export type Row = Schemas['Row']
export type Column = Schemas['Column']

/** The board of one case, and what may be done from it. */
export function useBoard(caseId: MaybeRefOrGetter<number>) {
  const loaded = useLoaded(BOARD, caseId, loadBoard)
  const refusal = ref<Problem | null>(null)

  async function act(call: Promise<Board>) {
    refusal.value = null
    try {
      loaded.data.value = await call
      return true
    } catch (fault) {
      refusal.value = toProblem(fault)
      return false
    }
  }
  const path = () => ({ path: { case_id: toValue(caseId) } })
  return {
    board: loaded.data,
    problem: loaded.problem,
    reload: loaded.reload,
    refusal,
    /** Cylinders that stand out of the others; none where the whole engine is meant. */
    accused: computed(() => {
      const { verdict, columns } = loaded.data.value ?? {
        verdict: { cylinders: [] as number[] },
        columns: [],
      }
      return new Set(
        verdict.cylinders.length < columns.length || columns.length === 1 ? verdict.cylinders : [],
      )
    }),
    setFuel: (state: 'enabled' | 'disabled', how: string) =>
      act(unwrap(client.POST('/api/cases/{case_id}/fuel/', { params: path(), body: { state, how } }))),
    setHappening: (happening: boolean) =>
      act(unwrap(client.POST('/api/cases/{case_id}/happening/', { params: path(), body: { happening } }))),
    setClock: (running: boolean) =>
      act(unwrap(client.POST('/api/cases/{case_id}/clock/', { params: path(), body: { running } }))),
    setApproach: (changes: Schemas['ApproachRequest']) =>
      act(unwrap(client.POST('/api/cases/{case_id}/approach/', { params: path(), body: changes }))),
    setMinutes: (test: string, minutes: number | null) =>
      act(unwrap(client.POST('/api/cases/{case_id}/access/', { params: path(), body: { test, minutes } }))),
    answerQuestion: (question: string, note: string) =>
      act(
        unwrap(
          client.POST('/api/cases/{case_id}/observations/', {
            params: path(),
            body: { test: 'note', data: { question, note } },
          }),
        ),
      ),
    recordWork: (body: Schemas['WorkRequest']) =>
      act(unwrap(client.POST('/api/cases/{case_id}/work/', { params: path(), body }))),
    recordFound: (body: Schemas['FoundRequest']) =>
      act(unwrap(client.POST('/api/cases/{case_id}/outcome/', { params: path(), body }))),
    decide: (fields: Record<string, string>, signature: Blob | null) =>
      act(
        upload<Board>(
          `/api/cases/${toValue(caseId)}/decision/`,
          signature && new File([signature], 'signature.png', { type: 'image/png' }),
          fields,
          () => undefined,
          { part: 'signature' },
        ),
      ),
    followUp: (body: Schemas['FollowUpRequest']) =>
      act(unwrap(client.POST('/api/cases/{case_id}/follow-ups/', { params: path(), body }))),
    followedUp: (follow_up_id: number) =>
      act(unwrap(client.POST('/api/follow-ups/{follow_up_id}/', { params: { path: { follow_up_id } } }))),
    close: (codes_cleared: string) =>
      act(unwrap(client.POST('/api/cases/{case_id}/close/', { params: path(), body: { codes_cleared } }))),
    reopen: (reason: string) =>
      act(unwrap(client.POST('/api/cases/{case_id}/reopen/', { params: path(), body: { reason } }))),
    async withdraw(row: Row, reason: string) {
      if (row.observation !== null)
        return act(
          unwrap(
            client.POST('/api/observations/{observation_id}/withdraw/', {
              params: { path: { observation_id: row.observation } },
              body: { reason },
            }),
          ),
        )
      try {
        refusal.value = null
        await unwrap(
          client.POST('/api/captures/{capture_id}/withdraw/', {
            params: { path: { capture_id: row.capture ?? 0 } },
            body: { reason },
          }),
        )
        loaded.reload()
        return true
      } catch (fault) {
        refusal.value = toProblem(fault)
        return false
      }
    },
  }
}
