import { client, unwrap } from '@/api/client'

/** The pictures of a case; what they are kept under, and how they are asked for. */
export const PICTURES = 'pictures'
export const loadPictures = (case_id: number, signal?: AbortSignal) =>
  unwrap(
    client.GET('/api/cases/{case_id}/pictures/', { params: { path: { case_id } }, signal: signal ?? null }),
  )
