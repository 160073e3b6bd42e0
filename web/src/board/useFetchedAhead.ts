import { watch, type Ref } from 'vue'
import { FORMS, loadForms } from '@/evidence/loadForms'
import { loadPictures, PICTURES } from '@/pictures/loadPictures'
import { fetchAhead } from '@/shared/useLoaded'
import type { Board } from './useBoard'

/** What is needed to write readings down and to take pictures is fetched while there is a connection. */
export function useFetchedAhead(board: Ref<Board | null>): void {
  watch(
    () => (board.value?.case.may.includes('add_evidence') ? board.value.case.id : null),
    (case_id) => {
      if (case_id === null) return
      void fetchAhead(FORMS, case_id, () => loadForms(case_id))
      void fetchAhead(PICTURES, case_id, () => loadPictures(case_id))
      void import('@/evidence/EvidenceView.vue')
      void import('@/pictures/PicturesView.vue')
    },
    { immediate: true },
  )
}
