import { describe, expect, it } from 'vitest'
import { nextTick, ref } from 'vue'
import { useStretch } from '@/traces/useStretch'
import type { Capture } from '@/traces/useTraces'
import { using } from '../mounting'

const CAPTURE = {
  id: 1,
  start_s: 2,
  duration_s: 8,
  rate_hz: 1000,
  cycle_starts_s: [3, 4, 5.5],
  channels: [{ role: 'starter_current' }],
} as unknown as Capture
const over = (capture = CAPTURE) => {
  const held = ref<Capture | null>(capture)
  return { held, ...using(() => useStretch(held)).made }
}

describe('the stretch that is looked at', () => {
  it('begins as the whole capture, from its own start', () => {
    const { stretch, whole } = over()
    expect(stretch.value).toEqual({ from: 2, to: 10 })
    expect(whole.value).toEqual({ from: 2, to: 10 })
  })
  it('opens on two cycles where sparks, injectors or pressures are read, and shows all on request', () => {
    const starts = [3, 3.2, 3.4, 3.6, 3.8]
    const sparks = [{ role: 'secondary_voltage' }]
    const { stretch, all, whole } = over({ ...CAPTURE, cycle_starts_s: starts, channels: sparks } as never)
    expect(stretch.value.from).toBeCloseTo(3.2 - 0.012, 6)
    expect(stretch.value.to).toBeCloseTo(3.6 + 0.012, 6)
    all()
    expect(stretch.value).toEqual(whole.value)
  })
  it('closer keeps the middle, wider brings back what was there', () => {
    const { stretch, closer } = over()
    closer(0.5)
    expect(stretch.value).toEqual({ from: 4, to: 8 })
    closer(2)
    expect(stretch.value).toEqual({ from: 2, to: 10 })
  })
  it('never leaves the capture and keeps its width at the edges', () => {
    const { stretch, closer, move } = over()
    closer(0.25)
    move(-50)
    expect(stretch.value).toEqual({ from: 2, to: 4 })
    move(50)
    expect(stretch.value).toEqual({ from: 8, to: 10 })
  })
  it('never shows fewer than eight samples', () => {
    const { stretch, closer } = over()
    for (let i = 0; i < 40; i++) closer(0.5)
    expect(stretch.value.to - stretch.value.from).toBeCloseTo(8 / 1000, 9)
  })
  it('steps from cycle to cycle and stops at both ends', () => {
    const { stretch, cycle, cycles, step } = over()
    expect(cycles.value).toEqual([
      { from: 3, to: 4 },
      { from: 4, to: 5.5 },
    ])
    step(1)
    expect(stretch.value).toEqual({ from: 3, to: 4 })
    step(5)
    expect([cycle.value, stretch.value]).toEqual([1, { from: 4, to: 5.5 }])
    step(-5)
    expect(cycle.value).toBe(0)
  })
  it('has nothing to step through where no cycle was found', () => {
    const { stretch, step, cycle } = over({ ...CAPTURE, cycle_starts_s: [] })
    step(1)
    expect([cycle.value, stretch.value]).toEqual([-1, { from: 2, to: 10 }])
  })
  it('is kept where the same capture is loaded again, and whole for another one', async () => {
    const { held, stretch, closer } = over()
    closer(0.5)
    held.value = { ...CAPTURE, name: 'held as known good' } as Capture
    await nextTick()
    expect(stretch.value).toEqual({ from: 4, to: 8 })
    held.value = { ...CAPTURE, id: 2, duration_s: 4 } as Capture
    await nextTick()
    expect(stretch.value).toEqual({ from: 2, to: 6 })
  })
})
