import { onBeforeUnmount, watch, type Ref } from 'vue'
import type { Stretch } from './useTraces'

const WHEEL_RATE = 0.0015

/** Wheel, pinch and one-finger drag over a plot, as new stretches of time. A mouse drag stays a choice of a stretch. */
export function usePanZoom(
  host: Readonly<Ref<HTMLElement | null>>,
  /** The drawing area within the page: left edge and width in pixels. */
  area: () => { left: number; width: number } | null,
  stretch: () => Stretch,
  show: (next: Stretch) => void,
) {
  const fingers = new Map<number, number>()
  /** Several events come between two renderings: each goes on from the one before. */
  let latest = stretch()
  watch(stretch, (now) => (latest = now))

  function zoom(about: number, factor: number) {
    const { from, to } = latest
    latest = { from: about - (about - from) * factor, to: about + (to - about) * factor }
    show(latest)
  }
  function move(seconds: number) {
    latest = { from: latest.from + seconds, to: latest.to + seconds }
    show(latest)
  }
  function at(x: number): { seconds: number; perPixel: number } | null {
    const box = area()
    if (!box || box.width < 1) return null
    const { from, to } = latest
    const perPixel = (to - from) / box.width
    return { seconds: from + (x - box.left) * perPixel, perPixel }
  }
  function wheel(event: WheelEvent) {
    const place = at(event.clientX)
    if (!place) return
    event.preventDefault()
    const sideways = Math.abs(event.deltaX) > Math.abs(event.deltaY) || event.shiftKey
    if (sideways) move((event.deltaX || event.deltaY) * place.perPixel)
    else zoom(place.seconds, Math.exp(event.deltaY * WHEEL_RATE * (event.ctrlKey ? 6 : 1)))
  }
  function down(event: PointerEvent) {
    if (event.pointerType === 'touch') fingers.set(event.pointerId, event.clientX)
  }
  function dragged(event: PointerEvent) {
    const before = fingers.get(event.pointerId)
    if (before === undefined) return
    const others = [...fingers].filter(([id]) => id !== event.pointerId).map(([, x]) => x)
    const other = others[0]
    const place = at(event.clientX)
    if (!place) return
    if (other === undefined) move((before - event.clientX) * place.perPixel)
    else {
      const [apart, now] = [Math.abs(before - other), Math.abs(event.clientX - other)]
      const middle = at((event.clientX + other) / 2)
      if (apart > 8 && now > 8 && middle) zoom(middle.seconds, apart / now)
    }
    fingers.set(event.pointerId, event.clientX)
  }
  const up = (event: PointerEvent) => fingers.delete(event.pointerId)

  let bound: HTMLElement | null = null
  function unbind() {
    bound?.removeEventListener('wheel', wheel)
    bound?.removeEventListener('pointerdown', down)
    bound?.removeEventListener('pointermove', dragged)
    bound?.removeEventListener('pointerup', up)
    bound?.removeEventListener('pointercancel', up)
  }
  watch(
    host,
    (element) => {
      unbind()
      bound = element
      element?.addEventListener('wheel', wheel, { passive: false })
      element?.addEventListener('pointerdown', down)
      element?.addEventListener('pointermove', dragged)
      element?.addEventListener('pointerup', up)
      element?.addEventListener('pointercancel', up)
    },
    { immediate: true },
  )
  onBeforeUnmount(unbind)
}
