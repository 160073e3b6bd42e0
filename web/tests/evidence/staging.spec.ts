import { describe, expect, it, vi } from 'vitest'
import { doing, PAUSES_MS, PIECE_BYTES, stage, wayOf, type FileImport } from '@/evidence/staging'
import { serve } from '../server'

const HELD = {
  id: 7, file_name: 'long.csv', by: 'Tess', own: true, may_cancel: true, size: 0, received: 0,
  state: 'arriving', stage: '', share: 0, before: 0, capture: null, problem: null,
} as FileImport // prettier-ignore

/** A server that holds what comes; `breaks` says at which request the line is lost, and whether the piece came. */
function holding(size: number, breaks: Record<number, 'before' | 'after'> = {}) {
  let bytes = ''
  let asked = 0
  const told = () =>
    Response.json({
      ...HELD,
      size,
      received: bytes.length,
      state: bytes.length < size ? 'arriving' : 'arrived',
    })
  serve(async (request) => {
    if (request.method !== 'PUT') return told()
    asked += 1
    const offset = Number(new URL(request.url).searchParams.get('offset'))
    if (breaks[asked] === 'before') throw new TypeError('line lost')
    if (offset === bytes.length) bytes += await request.text()
    if (breaks[asked] === 'after') throw new TypeError('answer lost')
    return told()
  })
  return { bytes: () => bytes, asked: () => asked }
}
const text = 'x'.repeat(PIECE_BYTES) + 'y'.repeat(PIECE_BYTES) + 'z'
const file = { name: 'long.csv', file: new File([text], 'long.csv') }

describe('a file is sent once, piece by piece', () => {
  it('in order, and no more of it at once than a piece', async () => {
    const server = holding(text.length)
    const seen: number[] = []
    const held = await stage(3, file, (now) => seen.push(now.received))
    expect(held.state).toBe('arrived')
    expect(server.bytes() === text).toBe(true)
    expect(seen).toEqual([0, PIECE_BYTES, 2 * PIECE_BYTES, text.length])
  })
  it.each([
    ['a piece that was lost is sent again', { 2: 'before' }],
    ['a piece whose answer was lost is not sent twice', { 2: 'after' }],
  ] as const)('%s', async (_, breaks) => {
    vi.useFakeTimers()
    const server = holding(text.length, breaks)
    const sending = stage(3, file, () => undefined)
    await vi.runAllTimersAsync()
    expect((await sending).state).toBe('arrived')
    expect(server.bytes() === text).toBe(true)
    vi.useRealTimers()
  })
  it('a line that stays broken is given up', async () => {
    vi.useFakeTimers()
    const breaks = Object.fromEntries(Array.from({ length: 20 }, (_, i) => [i + 1, 'before' as const]))
    const server = holding(text.length, breaks)
    const sending = stage(3, file, () => undefined).catch((fault: { code: string }) => fault.code)
    await vi.runAllTimersAsync()
    expect(await sending).toBe('unreachable')
    expect(server.asked()).toBe(PAUSES_MS.length + 1)
    vi.useRealTimers()
  })
  it('a file that changed since it was chosen is said to have', async () => {
    holding(3)
    const gone = { slice: () => ({ arrayBuffer: () => Promise.reject(new Error('NotReadable')) }), size: 3 }
    await expect(stage(3, { name: 'x', file: gone as never }, () => undefined)).rejects.toMatchObject({
      code: 'file_changed',
    })
  })
})

describe('what is being done with it', () => {
  it.each([
    [{ state: 'arriving', size: 200, received: 50 }, 'arrives, 25 %'],
    [{ state: 'waiting', before: 2 }, 'waits, 2 before it'],
    [{ state: 'working', stage: 'reading' }, 'is read'],
    [{ state: 'working', stage: 'measuring', share: 0.4 }, 'is measured and packed, 40 %'],
    [{ state: 'refused', problem: { sentence: 'Line 3.' } }, 'Line 3.'],
  ])('%o', (about, words) => {
    expect(doing({ ...HELD, ...about } as FileImport)).toBe(words)
  })
  it('the bar never goes back on the way from the queue to the end', () => {
    const way = [
      { state: 'waiting' },
      { state: 'working', stage: 'reading' },
      { state: 'working', stage: 'measuring', share: 0 },
      { state: 'working', stage: 'measuring', share: 0.9 },
      { state: 'kept', stage: 'done' },
    ].map((about) => wayOf({ ...HELD, ...about } as FileImport))
    expect(way).toEqual([...way].sort((a, b) => a - b))
  })
})
