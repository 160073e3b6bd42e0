import { watch, type Ref } from 'vue'
import { client, unwrap } from '@/api/client'
import { fetchAhead } from '@/shared/useLoaded'
import type { Board } from './useBoard'

/** What is needed to write readings down and to take pictures is fetched while there is a connection. */
export function useFetchedAhead(board: Ref<Board | null>): void {
  watch(
    () => (board.value?.case.may.includes('add_evidence') ? board.value.case.id : null),
    (case_id) => {
      if (case_id === null) return
      const params = { path: { case_id } }
      void fetchAhead('forms', case_id, () => unwrap(client.GET('/api/cases/{case_id}/forms/', { params })))
      void fetchAhead('pictures', case_id, () =>
        unwrap(client.GET('/api/cases/{case_id}/pictures/', { params })),
      )
      void import('@/evidence/EvidenceView.vue')
      void import('@/pictures/PicturesView.vue')
    },
    { immediate: true },
  )
}
