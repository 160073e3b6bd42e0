import { describe, expect, it } from 'vitest'
import { useDrawing } from '@/traces/useDrawing'
import type { Capture } from '@/traces/useTraces'
import { serve } from '../server'

const CAPTURE = { id: 7, rate_hz: 1000 } as Capture

describe('how a channel is drawn', () => {
  it('is as recorded until somebody changes it', () => {
    const { of, done } = useDrawing(() => CAPTURE)
    expect(of(0)).toEqual({ over: false, zero: 0 })
    expect(done(0, 'A')).toBe('')
  })
  it('is turned over and back, each channel by itself', () => {
    const { flip, of, done } = useDrawing(() => CAPTURE)
    flip(1)
    expect([of(0).over, of(1).over]).toEqual([false, true])
    expect(done(1, 'A')).toBe('shown upside down')
    flip(1)
    expect(of(1).over).toBe(false)
  })
  it('takes its zero from the value at the cursor, and gives it back', async () => {
    const asked: string[] = []
    serve((request) => {
      asked.push(new URL(request.url).pathname + new URL(request.url).search)
      return Response.json({ first: 0.25 })
    })
    const { zeroAt, of, done } = useDrawing(() => CAPTURE)
    await zeroAt(2, 1.5)
    expect(asked).toEqual(['/api/captures/7/reading/2/?from_s=1.5&to_s=1.5015'])
    expect(of(2).zero).toBe(0.25)
    expect(done(2, 'A')).toBe('zero drawn at 0.2500 A')
    await zeroAt(2, 9)
    expect(of(2).zero).toBe(0)
    expect(asked).toHaveLength(1)
  })
  it('stays where it is when the server cannot read the moment', async () => {
    serve(() => Response.json({ detail: 'no samples' }, { status: 400 }))
    const { zeroAt, zeros } = useDrawing(() => CAPTURE)
    await zeroAt(2, 1.5)
    expect(zeros.value).toEqual({})
  })
  it('says all that was done to the picture', () => {
    const { corner, flip, done } = useDrawing(() => CAPTURE)
    flip(0)
    corner.value = 2000
    expect(done(0, 'V')).toBe('shown upside down, shown below 2,000 Hz only')
  })
})
