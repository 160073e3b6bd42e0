import { client, unwrap } from '@/api/client'

/** The forms of a case; what they are kept under, and how they are asked for. */
export const FORMS = 'forms'
export const loadForms = (case_id: number, signal?: AbortSignal) =>
  unwrap(client.GET('/api/cases/{case_id}/forms/', { params: { path: { case_id } }, signal: signal ?? null }))
