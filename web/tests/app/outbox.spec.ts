import { afterEach, describe, expect, it } from 'vitest'
import { ask, connection } from '@/api/connection'
import { newKey } from '@/api/sending'
import { discard, flush, hold, outbox, waiting, type Held } from '@/app/outbox'
import { serve } from '../server'

const reading = (changed: Partial<Held> = {}): Held => ({
  key: newKey(),
  kind: 'reading',
  words: 'Compression, Van 4',
  url: '/api/cases/7/forms/compression_gauge/',
  body: { values: { dry: { 1: 1200 } } },
  notedAt: '2026-03-02T09:05:00.000Z',
  notedBy: 'tamsin',
  phase: 2,
  ...changed,
})
const kept = () => new Response('{}', { status: 201 })

afterEach(async () => {
  for (const one of outbox.value) await discard(one.key)
  serve(kept)
  await ask()
})

describe('what is not saved yet', () => {
  it('is sent oldest first with its key, its moment, its person and the state of the vehicle', async () => {
    const sent: Request[] = []
    serve((request) => {
      sent.push(request.clone())
      return kept()
    })
    const later = reading({ notedAt: '2026-03-02T10:00:00.000Z', words: 'later' })
    const first = reading({ notedBy: 'søren' })
    await hold(later)
    await hold(first)
    await flush()
    expect(sent.map((r) => r.headers.get('X-Once'))).toEqual([first.key, later.key])
    const { headers } = sent[0]!
    expect(headers.get('X-Noted-At')).toBe(first.notedAt)
    expect(decodeURIComponent(headers.get('X-Noted-By')!)).toBe('søren')
    expect(headers.get('X-Noted-In')).toBe('2')
    expect(await sent[0]!.json()).toEqual(first.body)
    expect(outbox.value).toEqual([])
  })
  it('stays while the server does not answer, and goes by itself once it does', async () => {
    serve(() => Promise.reject(new TypeError('gone')))
    await hold(reading())
    await flush()
    expect(outbox.value).toHaveLength(1)
    expect(connection.lostAt).not.toBeNull()
    const paths: string[] = []
    serve((request) => {
      paths.push(new URL(request.url).pathname)
      return kept()
    })
    await ask()
    await flush()
    expect(connection.lostAt).toBeNull()
    expect(paths).toEqual(['/health/alive/', '/api/cases/7/forms/compression_gauge/'])
    expect(outbox.value).toEqual([])
  })
  it('says why the server will not have one, tries it no more, and sends the others', async () => {
    const bad = reading({ url: '/api/cases/8/forms/compression_gauge/' })
    await hold(bad)
    await hold(reading({ notedAt: '2026-03-02T11:00:00.000Z' }))
    serve((request) =>
      request.url.includes('/8/')
        ? new Response(JSON.stringify({ code: 'observation_impossible', sentence: 'Worked on since.' }), {
            status: 400,
          })
        : kept(),
    )
    await flush()
    expect(outbox.value.map((one) => one.refused)).toEqual(['Worked on since.'])
    expect(waiting.value).toEqual([])
  })
  it('waits where the session ended: whoever noted it logs in again', async () => {
    await hold(reading())
    serve(() => new Response(JSON.stringify({ code: 'not_logged_in', sentence: 'Log in.' }), { status: 403 }))
    await flush()
    expect(waiting.value).toHaveLength(1)
  })
  it('sends a photo as a file with what it shows', async () => {
    let form: FormData | null = null
    serve(async (request) => {
      form = await request.formData()
      return kept()
    })
    const file = new File(['x'], 'plug.jpg', { type: 'image/jpeg' })
    await hold(reading({ kind: 'photo', file, body: undefined, fields: { words: 'wet plug' } }))
    await flush()
    expect(form!.get('words')).toBe('wet plug')
    expect(form!.get('file')).toBeInstanceOf(File)
  })
})

it('makes keys as the server reads them, no two alike', () => {
  const keys = Array.from({ length: 50 }, newKey)
  expect(new Set(keys).size).toBe(50)
  for (const key of keys)
    expect(key).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
})
