import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { useCyclePictures } from '@/traces/useCyclePictures'
import type { Scaling } from '@/traces/scaling'
import { binsOf, type Cycles, type Fold } from '@/traces/useFolds'

const ROLE = 'starter_current'
const BINS = binsOf(ROLE)
/** A cycle whose value at every column is its crank angle, as lows and highs. */
const ramp = (lift = 0) =>
  Float32Array.from({ length: 2 * BINS }, (_, i) => (Math.floor(i / 2) * 720) / BINS + lift)
const middle = (lift = 0) => Float32Array.from({ length: BINS }, (_, i) => (i * 720) / BINS + lift)
const shared: Fold = {
  position: 0,
  cylinder: null,
  rows: [ramp(), ramp(10)],
  average: [middle(5), middle(0), middle(9)],
}
const cycles = {
  available: true, from_deg: 0, starts_s: [0, 0.2], ends_s: [0.2, 0.3],
  windows: [
    { cylinder: 1, from_deg: 0, to_deg: 360 },
    { cylinder: 2, from_deg: 360, to_deg: 720 },
  ],
} as unknown as Cycles // prettier-ignore

function pictures(changes: Record<string, unknown> = {}) {
  return useCyclePictures({
    cycles, folds: [shared], below: [], role: ROLE, picked: null, share: 1, scaling: 'same', current: 0, look: 'cycle',
    ...changes,
  }) // prettier-ignore
}

describe('what is drawn of a folded capture', () => {
  it('lays every event of every cylinder on each other, cut out of its own window', () => {
    const { overlay, widest } = pictures()
    expect(overlay.value).toHaveLength(4)
    expect(overlay.value.map((line) => line.values[0])).toEqual([0, 10, 360, 370])
    expect(widest.value).toEqual([0, 360])
  })
  it('keeps the event in its place however close the look', () => {
    const led = { ...cycles, from_deg: -36, windows: [
      { cylinder: 1, from_deg: -36, to_deg: 324 },
      { cylinder: 2, from_deg: 324, to_deg: 684 },
    ] } as unknown as Cycles // prettier-ignore
    for (const share of [1, 0.25, 1 / 32]) {
      const { rows, widest } = pictures({ cycles: led, share })
      const [from, to] = widest.value
      expect(-from / (to - from)).toBeCloseTo(0.1)
      expect(to - from).toBeCloseTo(360 * share)
      const second = rows.value[1]!.drawn[0]!.values
      expect(second).toHaveLength(2 * Math.round((BINS * 360 * share) / 720))
      // The event of cylinder 2 lies 360 degrees on; the axis begins 36 before that of cylinder 1.
      expect(Math.abs(second[0]! - (396 + from))).toBeLessThanOrEqual(1)
    }
  })
  it('lays a cylinder that fires sooner after the one before where its degrees are', () => {
    const odd = { ...cycles, windows: [
      { cylinder: 1, from_deg: 0, to_deg: 450 },
      { cylinder: 2, from_deg: 450, to_deg: 720 },
    ] } as unknown as Cycles // prettier-ignore
    const { overlay, widest } = pictures({ cycles: odd, share: 0.5 })
    expect(widest.value).toEqual([0, 225])
    expect(overlay.value.map((line) => line.span)).toEqual([[0, 225], [0, 225], [0, 135], [0, 135]]) // prettier-ignore
  })
  it('picks one cylinder out and leaves the rest faint', () => {
    const picked = ref<number | null>(2)
    const { overlay } = pictures({ picked })
    expect(overlay.value.map((line) => line.tone)).toEqual(['faint', 'faint', 'picked', 'picked'])
    picked.value = null
    expect(new Set(overlay.value.map((line) => line.tone))).toEqual(new Set(['faint']))
  })
  it('gives all rows one scale until that is unlocked', () => {
    const scaling = ref<Scaling>('same')
    const { rows, everything } = pictures({ scaling })
    expect(rows.value.map((r) => r.reach)).toEqual([everything.value, everything.value])
    scaling.value = 'tamed'
    expect(rows.value[0]!.reach).toEqual(rows.value[1]!.reach)
    scaling.value = 'own'
    expect(rows.value[0]!.reach[1]).toBeLessThan(everything.value[1] / 1.5)
    expect(rows.value[0]!.reach).not.toEqual(rows.value[1]!.reach)
  })
  it('shows one cycle and says how fast it was', () => {
    const { oneCycle, rpm } = pictures({ current: 1 })
    expect(oneCycle.value[0]!.values[0]).toBe(10)
    expect(rpm.value).toBeCloseTo(1200)
  })
  it('reads values under a cursor, of this capture and of the one underneath', () => {
    const below = [{ cylinder: null, average: [middle(100)] }]
    const { readable } = pictures({ below, look: 'average' })
    expect(readable.value.map((r) => r.words)).toEqual(['this', 'underneath'])
    expect(readable.value[0]!.at(90)).toBeCloseTo(95)
    expect(readable.value[1]!.at(90)).toBeCloseTo(190)
    expect(readable.value[0]!.at(721)).toBeUndefined()
    expect(pictures({ look: 'overlay' }).readable.value).toEqual([])
  })
  it('names the strokes of the cylinder that begins, and each window', () => {
    const { ruler, columns } = pictures()
    expect(ruler.value.map((r) => r.words)).toEqual([
      '0° power 1',
      '180° exhaust 1',
      '360° intake 1',
      '540° compression 1',
    ])
    expect(columns.value).toEqual([
      { at: 0, words: 'cylinder 1' },
      { at: 360, words: 'cylinder 2' },
    ])
  })
  it('lays sides beside each other with the spread of their cycles', () => {
    const { besideLines, besideBand } = pictures({ below: [{ cylinder: null, average: [middle(1)] }] })
    expect(besideLines('this', 0)[0]!.values[0]).toBe(5)
    expect(besideBand('this', 0)!.high[0]).toBe(9)
    expect(besideLines('other', 0)[0]!.values[0]).toBe(1)
    expect(besideBand('other', 0)).toBeUndefined()
  })
  it('draws nothing before anything came', () => {
    const { overlay, rows, rpm, lead } = pictures({ cycles: null, folds: [] })
    expect([overlay.value, rows.value, rpm.value, lead.value]).toEqual([[], [], 0, 0])
  })
})
