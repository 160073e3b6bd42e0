import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref } from 'vue'
import { useRunner } from '@/traces/useRunner'

let scope = effectScope()
beforeEach(() => {
  vi.useFakeTimers()
  scope = effectScope()
})
afterEach(() => {
  scope.stop()
  vi.useRealTimers()
})
function runner(at: number, count: number) {
  const step = ref(at)
  return { step, ...scope.run(() => useRunner(step, count))! }
}

describe('cycles one after the other', () => {
  it('stop at the ends by hand', () => {
    const { step, go } = runner(1, 3)
    go(-5)
    expect(step.value).toBe(0)
    go(9)
    expect(step.value).toBe(2)
  })
  it('run round at a pace, and hold when asked again', () => {
    const { step, play, playing } = runner(2, 3)
    play()
    vi.advanceTimersByTime(450)
    expect(step.value).toBe(0)
    play()
    vi.advanceTimersByTime(2000)
    expect([step.value, playing.value]).toEqual([0, false])
  })
  it('turn round without holding', () => {
    const { step, play, playing } = runner(1, 4)
    play(1)
    play(-1)
    vi.advanceTimersByTime(900)
    expect([step.value, playing.value]).toEqual([3, true])
  })
  it('run at a third of the pace where that is asked for', async () => {
    const { step, slow, play } = runner(0, 9)
    slow.value = true
    play()
    vi.advanceTimersByTime(1400)
    expect(step.value).toBe(0)
    vi.advanceTimersByTime(200)
    expect(step.value).toBe(1)
  })
  it('do nothing where there are none', () => {
    const { step, go } = runner(0, 0)
    go(1)
    expect(step.value).toBe(0)
  })
})
