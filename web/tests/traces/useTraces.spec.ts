import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { useTraces, type Capture, type Stretch, type Treatment } from '@/traces/useTraces'
import { settled, using } from '../mounting'
import { serve } from '../server'

const capture = (id = 1) =>
  ({
    id,
    start_s: 10,
    duration_s: 100,
    rate_hz: 10,
    channels: [{ position: 0 }, { position: 1 }],
  }) as unknown as Capture
beforeEach(() => vi.useFakeTimers())
afterEach(() => vi.useRealTimers())

/** A server whose first channel is its capture's number and whose second is a ramp. */
function shown(treatment?: (position: number) => Treatment, step = 1) {
  const asked: Record<string, string>[] = []
  serve((request) => {
    const url = new URL(request.url)
    asked.push({ path: url.pathname, ...Object.fromEntries(url.searchParams) })
    const id = Number(url.pathname.split('/')[3])
    return new Response(new Float32Array([id, id, 1, 2]).buffer, {
      headers: { 'X-Channels': '2', 'X-First-Sample': '20', 'X-Step': String(step) },
    })
  })
  const of = ref<Capture | null>(capture())
  const stretch = ref<Stretch>({ from: 20, to: 40 })
  const corner = ref(0)
  const { made } = using(() => useTraces(of, stretch, 100, corner, treatment))
  const rest = async () => {
    await nextTick()
    await vi.advanceTimersByTimeAsync(500)
    await settled()
  }
  return { asked, of, stretch, corner, rest, ...made }
}

describe('samples of what is shown', () => {
  it('are fetched with room on either side, counted from the first sample', async () => {
    const { asked, rest } = shown()
    await rest()
    expect(asked).toEqual([{ path: '/api/captures/1/window/', from_s: '0', to_s: '40', points: '200' }])
  })
  it('lie on the clock of the capture', async () => {
    const { traces, rest } = shown()
    await rest()
    expect([...traces.value[1]!.times]).toEqual([12, 12.1])
    expect([...traces.value[1]!.values]).toEqual([1, 2])
  })
  it('lows and highs of a coarse step lie half a step apart', async () => {
    const { traces, rest } = shown(undefined, 8)
    await rest()
    expect(traces.value[0]!.times[1]! - traces.value[0]!.times[0]!).toBeCloseTo(0.4)
  })
  it('are not fetched again for a look within the room', async () => {
    const { asked, stretch, rest } = shown()
    await rest()
    stretch.value = { from: 25, to: 45 }
    await rest()
    expect(asked).toHaveLength(1)
    stretch.value = { from: 60, to: 80 }
    await rest()
    expect(asked).toHaveLength(2)
  })
  it('come finer where somebody looks closer than the step allows', async () => {
    const { asked, stretch, rest } = shown(undefined, 8)
    await rest()
    stretch.value = { from: 29, to: 31 }
    await rest()
    expect(asked).toHaveLength(2)
  })
  it('a hand that keeps moving is answered for where it came to rest', async () => {
    const { asked, stretch, rest } = shown()
    for (let i = 0; i < 10; i++) {
      stretch.value = { from: 40 + i, to: 42 + i }
      await nextTick()
    }
    await rest()
    expect(asked.length).toBeLessThanOrEqual(3)
    expect(asked[asked.length - 1]!['from_s']).toBe('38')
  })
  it('another corner of the filter is another request', async () => {
    const { asked, corner, rest } = shown()
    await rest()
    corner.value = 500
    await rest()
    expect(asked[1]!['corner_hz']).toBe('500')
  })
  it('of another capture never show under this one', async () => {
    const { of, traces, rest } = shown()
    await rest()
    expect(traces.value[0]!.values[0]).toBe(1)
    of.value = capture(2)
    await nextTick()
    expect(traces.value).toEqual([])
    await rest()
    expect(traces.value[0]!.values[0]).toBe(2)
  })
  it('are turned over about their zero without touching what was fetched', async () => {
    const over = ref(false)
    const { traces, rest } = shown((position) => ({ over: over.value && position === 1, zero: position }))
    await rest()
    expect([...traces.value[1]!.values]).toEqual([0, 1])
    over.value = true
    await nextTick()
    expect([...traces.value[1]!.values]).toEqual([0, -1])
    expect([...traces.value[0]!.values]).toEqual([1, 1])
  })
  it('say what went wrong, and come once the server is back', async () => {
    const { problem, stretch, traces, rest } = shown()
    serve(() => Response.json({ code: 'moved', sentence: 'The samples are being moved.' }, { status: 409 }))
    await rest()
    stretch.value = { from: 80, to: 90 }
    await rest()
    expect(problem.value?.sentence).toContain('moved')
    serve(() =>
      new Response(new Float32Array([5, 5]).buffer, {
        headers: { 'X-Channels': '2', 'X-First-Sample': '0', 'X-Step': '1' },
      }),
    ) // prettier-ignore
    stretch.value = { from: 50, to: 60 }
    await rest()
    expect(problem.value).toBeNull()
    expect(traces.value[0]!.values[0]).toBe(5)
  })
})
