import { answered, unanswered } from './connection'
import { cookie, refusalOf } from './client'
import { toProblem } from './problems'

/** Something written down, as it goes to the server: now, or later than it was noted. */
export interface Sending {
  /** The same at every try: the server keeps it once. */
  once: string
  body?: unknown
  file?: File
  fields?: Record<string, string>
  notedAt?: string
  notedBy?: string
  phase?: number
}

/** Send it; whatever the server refuses, or that it did not answer, is thrown as a problem. */
export async function send(url: string, what: Sending): Promise<void> {
  const headers: Record<string, string> = { 'X-CSRFToken': cookie('csrftoken'), 'X-Once': what.once }
  if (what.notedAt) {
    headers['X-Noted-At'] = what.notedAt
    headers['X-Noted-By'] = encodeURIComponent(what.notedBy ?? '')
    if (what.phase !== undefined) headers['X-Noted-In'] = String(what.phase)
  }
  let body: BodyInit
  if (what.file) {
    const form = new FormData()
    form.append('file', what.file)
    for (const [name, value] of Object.entries(what.fields ?? {})) form.append(name, value)
    body = form
  } else {
    headers['Content-Type'] = 'application/json'
    body = JSON.stringify(what.body ?? {})
  }
  const response = await fetch(url, { method: 'POST', headers, body }).catch(() => {
    unanswered()
    throw toProblem(null)
  })
  answered()
  if (!response.ok) throw await refusalOf(response)
}

/** A key nobody else makes; also where the page came over a plain connection, in which browsers have no `randomUUID`. */
export function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  bytes[6] = (bytes[6]! & 0x0f) | 0x40
  bytes[8] = (bytes[8]! & 0x3f) | 0x80
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('')
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5')
}
