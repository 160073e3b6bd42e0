import { describe, expect, it } from 'vitest'
import { nextTick, ref, shallowRef } from 'vue'
import { usePanZoom } from '@/traces/usePanZoom'
import type { Stretch } from '@/traces/useTraces'
import { using } from '../mounting'

/** A plot 1,000 pixels wide that shows 0 to 10 s. */
function plot() {
  const host = document.createElement('div')
  const stretch = ref<Stretch>({ from: 0, to: 10 })
  const shown: Stretch[] = []
  const { leave } = using(() =>
    usePanZoom(
      shallowRef(host),
      () => ({ left: 0, width: 1000 }),
      () => stretch.value,
      (next) => shown.push(next),
    ),
  )
  const finger = (type: string, pointerId: number, clientX: number, pointerType = 'touch') =>
    host.dispatchEvent(
      Object.assign(new Event(type), { pointerId, clientX, pointerType }) as unknown as PointerEvent,
    )
  const wheel = (about: object) => {
    const event = Object.assign(new Event('wheel', { cancelable: true }), {
      clientX: 500, deltaX: 0, deltaY: 0, shiftKey: false, ctrlKey: false, ...about,
    }) // prettier-ignore
    host.dispatchEvent(event)
    return event
  }
  return { stretch, shown, finger, wheel, leave }
}
const last = (shown: Stretch[]) => shown[shown.length - 1]!

describe('hands on a plot', () => {
  it('the wheel zooms about the pointer', () => {
    const { shown, wheel } = plot()
    const event = wheel({ clientX: 200, deltaY: -400 })
    const { from, to } = last(shown)
    expect(event.defaultPrevented).toBe(true)
    expect(to - from).toBeCloseTo(10 * Math.exp(-0.6))
    expect((2 - from) / (to - from)).toBeCloseTo(0.2) // the second under the pointer stays there
  })
  it('shift and wheel, or a wheel sideways, move', () => {
    const { shown, wheel } = plot()
    wheel({ deltaY: 100, shiftKey: true })
    expect(last(shown)).toEqual({ from: 1, to: 11 })
    wheel({ deltaX: -100 })
    expect(last(shown)).toEqual({ from: 0, to: 10 })
  })
  it('one finger moves, two pinch, and a mouse does neither', () => {
    const { shown, finger } = plot()
    finger('pointerdown', 1, 400)
    finger('pointermove', 1, 500)
    expect(last(shown)).toEqual({ from: -1, to: 9 })
    finger('pointerdown', 2, 700)
    finger('pointermove', 2, 900)
    expect(last(shown).to - last(shown).from).toBeCloseTo(5) // twice as far apart: twice as close
    const before = shown.length
    finger('pointerup', 1, 500)
    finger('pointerup', 2, 900)
    finger('pointermove', 2, 300)
    finger('pointerdown', 3, 100, 'mouse')
    finger('pointermove', 3, 300, 'mouse')
    expect(shown).toHaveLength(before)
  })
  it('several events between two renderings go on from each other', () => {
    const { shown, wheel } = plot()
    wheel({ deltaY: 100, shiftKey: true })
    wheel({ deltaY: 100, shiftKey: true })
    expect(last(shown)).toEqual({ from: 2, to: 12 })
  })
  it('what is shown by others is where the next event begins', async () => {
    const { stretch, shown, wheel } = plot()
    stretch.value = { from: 100, to: 110 }
    await nextTick()
    wheel({ deltaY: 100, shiftKey: true })
    expect(last(shown)).toEqual({ from: 101, to: 111 })
  })
  it('lets go of the plot with its view', () => {
    const { shown, wheel, leave } = plot()
    leave()
    wheel({ deltaY: 100 })
    expect(shown).toEqual([])
  })
})
