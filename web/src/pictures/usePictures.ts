import { computed, ref, toValue, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, upload } from '@/api/client'
import { toProblem } from '@/api/problems'
import { newKey } from '@/api/sending'
import { hold } from '@/app/outbox'
import { useSession } from '@/app/session'
import { useAttempt } from '@/shared/useAttempt'
import { useLoaded } from '@/shared/useLoaded'
import { loadPictures, PICTURES } from './loadPictures'
import type { Mark } from './marks'

/** What a camera, a folder or the clipboard may give. */
export const KINDS = ['image/jpeg', 'image/png', 'image/webp', 'audio/wav', 'audio/x-wav', 'audio/wave']

/** What a picture belongs to, as it is picked and as it is sent: `part:3`; nothing where it is of the case. */
export function aboutFields(about: string): Record<string, string> {
  const [kind, id] = about.split(':')
  return kind && id ? { [kind]: id } : {}
}

/** Files of a drop or a paste that are pictures or sounds. */
export function picturesOf(files: Iterable<File>): File[] {
  return [...files].filter((file) => KINDS.includes(file.type))
}

/** Pictures and sounds of one case. */
export function usePictures(caseId: MaybeRefOrGetter<number>) {
  const loaded = useLoaded(PICTURES, caseId, loadPictures)
  const { problem: refusal, busy, attempt } = useAttempt()
  const session = useSession()
  const sent = ref<number | null>(null)
  const changed = (work: () => Promise<unknown>) =>
    attempt(async () => {
      await work()
      loaded.reload()
    })
  async function keepOne(file: File, words: string, about: string) {
    const key = newKey()
    const url = `/api/cases/${toValue(caseId)}/pictures/`
    const fields = { words, ...aboutFields(about) }
    sent.value = 0
    try {
      await upload(url, file, fields, (share) => (sent.value = share), { headers: { 'X-Once': key } })
    } catch (fault) {
      if (toProblem(fault).code !== 'unreachable') throw fault
      await hold({
        key,
        kind: 'photo',
        words: `${words || 'Picture'}, ${loaded.data.value?.title ?? ''}`,
        url,
        file,
        fields,
        notedAt: new Date().toISOString(),
        notedBy: session.state?.username ?? '',
      })
    } finally {
      sent.value = null
    }
  }
  return {
    data: loaded.data,
    problem: loaded.problem,
    reload: loaded.reload,
    refusal,
    busy,
    sent,
    photos: computed(() => loaded.data.value?.pictures.filter((p) => p.kind === 'photo') ?? []),
    sounds: computed(() => loaded.data.value?.pictures.filter((p) => p.kind === 'sound') ?? []),
    /** Keep pictures; one that the server did not get is held until it answers. */
    add: (files: readonly File[], words: string, about = '') =>
      changed(async () => {
        for (const file of files) await keepOne(file, words, about)
      }),
    mark: (picture_id: number, marks: Mark[]) =>
      changed(() =>
        unwrap(
          client.POST('/api/pictures/{picture_id}/marks/', {
            params: { path: { picture_id } },
            body: { marks },
          }),
        ),
      ),
    withdraw: (picture_id: number, reason: string) =>
      changed(() =>
        unwrap(
          client.POST('/api/pictures/{picture_id}/withdraw/', {
            params: { path: { picture_id } },
            body: { reason },
          }),
        ),
      ),
  }
}
