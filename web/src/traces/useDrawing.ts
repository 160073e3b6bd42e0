import { ref } from 'vue'
import { client, unwrap } from '@/api/client'
import type { Capture } from './useTraces'

/** Corners of the low-pass offered, Hz; 0 is none. */
export const CORNERS = [0, 20, 100, 500, 2000, 10000]

/** How each channel is drawn: upside down, with another zero, filtered. What is kept stays as it was recorded. */
export function useDrawing(capture: () => Capture | null | undefined) {
  const corner = ref(0)
  const flipped = ref<number[]>([])
  /** What is drawn as zero, by channel. */
  const zeros = ref<Record<number, number>>({})

  function flip(position: number) {
    flipped.value = flipped.value.includes(position)
      ? flipped.value.filter((p) => p !== position)
      : [...flipped.value, position]
  }
  /** The value at a moment becomes zero; a second time it is measured zero again. */
  async function zeroAt(position: number, moment: number) {
    if (zeros.value[position] !== undefined) {
      zeros.value = Object.fromEntries(Object.entries(zeros.value).filter(([p]) => Number(p) !== position))
      return
    }
    const held = capture()
    if (!held) return
    const query = { from_s: moment, to_s: moment + 1.5 / held.rate_hz }
    const path = { capture_id: held.id, position }
    const read = await unwrap(
      client.GET('/api/captures/{capture_id}/reading/{position}/', { params: { path, query } }),
    ).catch(() => null)
    if (read) zeros.value = { ...zeros.value, [position]: read.first }
  }
  /** What was done to the picture of a channel, so that nobody takes it for the signal. */
  const done = (position: number, unit: string) =>
    [
      flipped.value.includes(position) ? 'shown upside down' : '',
      zeros.value[position] === undefined
        ? ''
        : `zero drawn at ${zeros.value[position].toPrecision(4)} ${unit}`,
      corner.value ? `shown below ${corner.value.toLocaleString('en')} Hz only` : '',
    ]
      .filter(Boolean)
      .join(', ')
  const of = (position: number) => ({
    over: flipped.value.includes(position),
    zero: zeros.value[position] ?? 0,
  })
  return { corner, flipped, zeros, flip, zeroAt, done, of }
}
