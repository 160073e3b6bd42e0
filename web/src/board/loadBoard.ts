import { client, unwrap } from '@/api/client'

/** The board of a case; what it is kept under, and how it is asked for. */
export const BOARD = 'board'
export const loadBoard = (case_id: number, signal?: AbortSignal) =>
  unwrap(client.GET('/api/cases/{case_id}/', { params: { path: { case_id } }, signal: signal ?? null }))
