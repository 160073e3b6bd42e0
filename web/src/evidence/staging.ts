import { client, unwrap, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

/** A file chosen here, or one that waits in the inbox folder of the server. */
export interface Source {
  name: string
  file: File | null
}
export type FileImport = Schemas['FileImport']
export type KeepPlan = Schemas['KeepPlanRequest']

export const PIECE_BYTES = 4 * 1024 * 1024
/** Pauses before a piece is tried again, ms; after the last one the sender gives up. */
export const PAUSES_MS = [500, 1000, 2000, 4000, 8000]
export const ASKS_EVERY_MS = 250
const ENDS = ['kept', 'refused', 'cancelled']

const GONE: Problem = {
  code: 'file_changed',
  sentence: 'The file was changed or moved since it was chosen. Choose it again.',
}
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

/** Send a file once, piece by piece; one that broke off goes on where it stopped. */
export async function stage(
  case_id: number,
  source: Source,
  told: (held: FileImport) => void,
): Promise<FileImport> {
  const { name, file } = source
  let held = await unwrap(
    client.POST('/api/cases/{case_id}/imports/', {
      params: { path: { case_id } },
      body: { name, size: file?.size ?? 0, modified: file?.lastModified ?? 0, inbox: file === null },
    }),
  )
  told(held)
  while (file && held.state === 'arriving') {
    held = await sent(held, file)
    told(held)
  }
  return held
}

/** The next piece; where the line breaks, what had come by then is asked for and sent on from there. */
async function sent(held: FileImport, file: File): Promise<FileImport> {
  const path = { import_id: held.id }
  for (const ms of [...PAUSES_MS, null]) {
    const piece = await file
      .slice(held.received, held.received + PIECE_BYTES)
      .arrayBuffer()
      .catch(() => Promise.reject(GONE))
    try {
      return await unwrap(
        client.PUT('/api/imports/{import_id}/file/', {
          params: { path, query: { offset: held.received } },
          headers: { 'Content-Type': 'application/octet-stream' },
          body: piece as unknown as string,
          bodySerializer: (bytes) => bytes as unknown as BodyInit,
        }),
      )
    } catch (fault) {
      if (ms === null || toProblem(fault).code !== 'unreachable') throw fault
      await pause(ms)
      held = await unwrap(client.GET('/api/imports/{import_id}/', { params: { path } })).catch(() => held)
    }
  }
  return held
}

export const looked = (import_id: number): Promise<Schemas['TableGuess']> =>
  unwrap(client.POST('/api/imports/{import_id}/look/', { params: { path: { import_id } } }))

/** Have a staged file kept, and follow it to its end. */
export async function kept(
  import_id: number,
  plan: KeepPlan,
  told: (held: FileImport) => void,
): Promise<FileImport> {
  const path = { import_id }
  let held = await unwrap(client.POST('/api/imports/{import_id}/keep/', { params: { path }, body: plan }))
  told(held)
  for (let silent = 0; !ENDS.includes(held.state);) {
    await pause(ASKS_EVERY_MS)
    try {
      held = await unwrap(client.GET('/api/imports/{import_id}/', { params: { path } }))
      silent = 0
    } catch (fault) {
      silent += 1
      if (silent * ASKS_EVERY_MS > 30_000) throw fault // a server that is started again comes back sooner
      continue
    }
    told(held)
  }
  return held
}

export const cancelled = (import_id: number): Promise<FileImport> =>
  unwrap(client.DELETE('/api/imports/{import_id}/', { params: { path: { import_id } } }))

export const underWay = (case_id: number): Promise<FileImport[]> =>
  unwrap(client.GET('/api/cases/{case_id}/imports/', { params: { path: { case_id } } }))

/** What is being done with a file, in words. */
export function doing(held: FileImport): string {
  if (held.state === 'arriving') return `arrives, ${Math.round((100 * held.received) / held.size)} %`
  if (held.state === 'arrived') return 'was looked at'
  if (held.state === 'refused') return held.problem?.sentence ?? 'refused'
  if (held.state === 'waiting') return held.before ? `waits, ${held.before} before it` : 'waits'
  if (held.stage === 'reading') return 'is read'
  if (held.stage === 'measuring') {
    return held.share > 0 ? `is measured and packed, ${Math.round(100 * held.share)} %` : 'is measured'
  }
  return held.state === 'kept' ? 'is kept' : 'begins'
}

/** How far a file is on its whole way, 0 to 1. */
export function wayOf(held: FileImport): number {
  if (held.state === 'arriving') return held.size ? held.received / held.size : 0
  if (held.stage === 'measuring') return 0.4 + 0.6 * held.share
  return held.stage === 'reading' ? 0.2 : held.state === 'kept' ? 1 : 0.05
}
