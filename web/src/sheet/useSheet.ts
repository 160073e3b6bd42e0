import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'

/** One page has room for so many pictures or figures beside the comparison. */
export const SHOWN_MOST = 2

/** What is chosen once one more is ticked or one is taken off; of too many the oldest falls away. */
export function chosenAfter(chosen: readonly string[], reference: string): string[] {
  if (chosen.includes(reference)) return chosen.filter((one) => one !== reference)
  return [...chosen, reference].slice(-SHOWN_MOST)
}

/** Where the page of a case lies, and the same on paper. */
export function addressesOf(caseId: number, whole: boolean) {
  const query = whole ? '?whole=1' : ''
  return { page: `/api/cases/${caseId}/sheet/${query}`, paper: `/api/cases/${caseId}/sheet.pdf${query}` }
}

/** What goes with the sheet of a case: the figures to choose from, and its links. */
export function useSheet(caseId: MaybeRefOrGetter<number>) {
  const { data, problem, reload } = useLoaded('sheet', caseId, (case_id, signal) =>
    unwrap(client.GET('/api/cases/{case_id}/sheet/about/', { params: { path: { case_id } }, signal })),
  )
  const { problem: refusal, busy, attempt } = useAttempt()
  const made = ref('')
  /** Changes with everything that may change the page, so that the frame asks for it anew. */
  const edition = ref(0)
  const told = (answer: Schemas['SheetAbout']) => {
    data.value = answer
    edition.value += 1
  }
  const path = () => ({ params: { path: { case_id: toValue(caseId) } } })
  return {
    data,
    problem,
    reload,
    refusal,
    busy,
    made,
    edition,
    shown: computed(() => data.value?.offered.filter((one) => one.shown).map((one) => one.reference) ?? []),
    choose: (shown: string[]) =>
      attempt(async () =>
        told(await unwrap(client.POST('/api/cases/{case_id}/sheet/shown/', { ...path(), body: { shown } }))),
      ),
    makeLink: (words: string, whole: boolean, days: number) =>
      attempt(async () => {
        const answer = await unwrap(
          client.POST('/api/cases/{case_id}/sheet/links/', { ...path(), body: { words, whole, days } }),
        )
        made.value = `${location.origin}${answer.path}`
        reload()
      }),
    revoke: (link_id: number) =>
      attempt(async () => {
        made.value = ''
        told(
          await unwrap(client.POST('/api/sheet-links/{link_id}/revoke/', { params: { path: { link_id } } })),
        )
      }),
  }
}
