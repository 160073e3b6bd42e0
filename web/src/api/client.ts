import createClient, { type Middleware } from 'openapi-fetch'
import { answered, unanswered } from './connection'
import type { components, paths } from './schema'
import { toProblem, type Problem } from './problems'

export type Schemas = components['schemas']
export type { Problem }

export function cookie(name: string): string {
  const found = document.cookie.split('; ').find((part) => part.startsWith(`${name}=`))
  return found ? decodeURIComponent(found.slice(name.length + 1)) : ''
}

/** Django's own guard against requests from elsewhere. */
const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', cookie('csrftoken'))
    return request
  },
}

let signedOut = () => undefined as void
/** What to do when the server no longer knows who asks: the session ended while a page stood open. */
export function whenSignedOut(action: () => void): void {
  signedOut = action
}

/** A refusal as a problem; a session that ended is said once for all requests. */
export async function refusalOf(response: Response): Promise<Problem> {
  const problem = toProblem(await response.json().catch(() => null), response.status)
  if (problem.code === 'not_logged_in') signedOut()
  return problem
}
const watchful: Middleware = {
  onError({ error }) {
    if (!(error instanceof DOMException && error.name === 'AbortError')) unanswered()
  },
  async onResponse({ response }) {
    answered()
    if (response.status === 403) await refusalOf(response.clone())
  },
}

export const client = createClient<paths>({ baseUrl: window.location.origin, credentials: 'same-origin' })
client.use(guard, watchful)

/** The data of an answer, or its problem thrown. */
export async function unwrap<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  const { data, error, response } = await call.catch((fault: unknown) => {
    throw toProblem(fault)
  })
  if (!response.ok || error !== undefined) throw toProblem(error, response.status)
  return data as T
}

/** Send a file with progress; fetch cannot tell how much has gone. */
export function upload<T>(
  url: string,
  file: File | null,
  fields: Record<string, string>,
  onProgress: (share: number) => void,
  { part = 'file', headers = {} }: { part?: string; headers?: Record<string, string> } = {},
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', url)
    request.setRequestHeader('X-CSRFToken', cookie('csrftoken'))
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value)
    request.responseType = 'json'
    request.upload.onprogress = (event) => onProgress(event.total ? event.loaded / event.total : 0)
    request.onload = () =>
      request.status < 300
        ? resolve(request.response as T)
        : reject(toProblem(request.response, request.status))
    request.onerror = () => {
      unanswered()
      reject(toProblem(null))
    }
    const form = new FormData()
    if (file) form.append(part, file)
    for (const [name, value] of Object.entries(fields)) form.append(name, value)
    request.send(form)
  })
}

/** Numbers as they are: float32, one row after the other. */
export async function binary(
  url: string,
  signal?: AbortSignal,
): Promise<{ all: Float32Array; headers: Headers }> {
  const response = await fetch(url, { signal: signal ?? null })
  if (!response.ok) throw await refusalOf(response)
  return { all: new Float32Array(await response.arrayBuffer()), headers: response.headers }
}

/** Samples of every channel, a row each: float32, lows and highs in turn where `step` is above 1. */
export interface Span {
  rows: Float32Array[]
  first: number
  step: number
}

export async function samples(
  capture: number,
  window: { from_s: number; to_s: number; points: number; corner_hz?: number },
): Promise<Span> {
  const query = new URLSearchParams(Object.entries(window).map(([k, v]) => [k, String(v)]))
  const { all, headers } = await binary(`/api/captures/${capture}/window/?${query}`)
  const count = Number(headers.get('X-Channels'))
  const width = count ? all.length / count : 0
  return {
    rows: Array.from({ length: count }, (_, i) => all.subarray(i * width, (i + 1) * width)),
    first: Number(headers.get('X-First-Sample')),
    step: Number(headers.get('X-Step')),
  }
}
