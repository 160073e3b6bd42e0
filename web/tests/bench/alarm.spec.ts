import { nextTick, ref } from 'vue'
import { describe, expect, it, vi } from 'vitest'
import { useAlarm } from '@/bench/useAlarm'

function audio() {
  const tones: { start: number; stop: number }[] = []
  const context = {
    currentTime: 5,
    destination: {},
    createOscillator: () => {
      const tone = { start: 0, stop: 0 }
      tones.push(tone)
      return {
        frequency: { value: 0 },
        connect: vi.fn(),
        start: (at: number) => (tone.start = at),
        stop: (at: number) => (tone.stop = at),
      }
    },
  }
  return { context: context as unknown as AudioContext, tones }
}

describe('the alarm of a watch', () => {
  it('sounds three times, one after the other, when something is lost, and once only', async () => {
    const { context, tones } = audio()
    const caught = ref(false)
    useAlarm(
      () => caught.value,
      () => context,
    )
    await nextTick()
    expect(tones).toHaveLength(0)
    caught.value = true
    await nextTick()
    expect(tones).toHaveLength(3)
    expect(tones.every((tone, i) => tone.stop > tone.start && tone.start >= (tones[i - 1]?.stop ?? 5))).toBe(
      true,
    )
    caught.value = false
    await nextTick()
    expect(tones).toHaveLength(3)
  })
  it('is silent without complaint where a browser has no sound', async () => {
    const caught = ref(false)
    useAlarm(
      () => caught.value,
      () => null,
    )
    caught.value = true
    await nextTick()
    expect(caught.value).toBe(true)
  })
})
