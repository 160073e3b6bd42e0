import { describe, expect, it, vi } from 'vitest'
import { unwrap, client, samples, whenSignedOut } from '@/api/client'
import { toProblem } from '@/api/problems'
import { serve } from '../server'

const refusing = (status: number, body: unknown) =>
  serve(async () => new Response(JSON.stringify(body), { status }))

describe('a session that ended while the page stood open', () => {
  it('is noticed by whichever request comes next', async () => {
    const noticed = vi.fn()
    whenSignedOut(noticed)
    refusing(403, { code: 'not_logged_in', sentence: 'You are not logged in.' })
    await expect(unwrap(client.GET('/api/cases/'))).rejects.toMatchObject({ code: 'not_logged_in' })
    await expect(samples(1, { from_s: 0, to_s: 1, points: 10 })).rejects.toMatchObject({
      code: 'not_logged_in',
    })
    expect(noticed).toHaveBeenCalledTimes(2)
  })
  it('is not what a role that may not means', async () => {
    const noticed = vi.fn()
    whenSignedOut(noticed)
    refusing(403, { code: 'not_allowed', sentence: 'Your role does not allow this.' })
    await expect(unwrap(client.GET('/api/cases/'))).rejects.toMatchObject({ code: 'not_allowed' })
    expect(noticed).not.toHaveBeenCalled()
  })
})

describe('samples', () => {
  it('come as one row per channel, of what the headers say', async () => {
    const headers = { 'X-Channels': '2', 'X-First-Sample': '40', 'X-Step': '4' }
    serve(async () => new Response(new Float32Array([1, 2, 3, 4, 5, 6]).buffer, { headers }))
    const span = await samples(3, { from_s: 0, to_s: 1, points: 3 })
    expect(span.rows.map((r) => [...r])).toEqual([
      [1, 2, 3],
      [4, 5, 6],
    ])
    expect([span.first, span.step]).toEqual([40, 4])
  })
})

describe('anything that goes wrong', () => {
  it.each([
    [{ code: 'x', sentence: 'In words.' }, 400, 'In words.'],
    [null, 413, 'The file is too large. Split the recording.'],
    [null, 502, 'Something went wrong in the program. Nothing was stored. Try again.'],
    [new TypeError('fetch failed'), 0, 'The server did not answer. Check that it runs, then try again.'],
  ])('has a sentence to show', (fault, status, sentence) => {
    expect(toProblem(fault, status).sentence).toBe(sentence)
  })
})
