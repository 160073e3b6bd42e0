import { describe, expect, it } from 'vitest'
import { areFirings, beginsWith, eventsIn, eventsOf, strokesOf } from '@/traces/cylinderEvents'
import type { Cycles } from '@/traces/useFolds'

/** Two cycles of a three-cylinder, the second twice as slow; windows open 27 degrees early. */
const CYCLES = {
  available: true,
  from_deg: -27,
  starts_s: [1, 1.24],
  ends_s: [1.24, 1.72],
  windows: [
    { cylinder: 1, from_deg: -27, to_deg: 213 },
    { cylinder: 3, from_deg: 213, to_deg: 453 },
    { cylinder: 2, from_deg: 453, to_deg: 693 },
  ],
} as unknown as Cycles

describe('where cylinders fire', () => {
  it('is written at the event, in firing order, however fast each cycle was', () => {
    const found = eventsIn(eventsOf(CYCLES), { from: 0, to: 5 })
    expect(found.map((e) => e.cylinder)).toEqual([1, 3, 2, 1, 3, 2])
    found.forEach((e, i) => expect(e.at).toBeCloseTo([1, 1.08, 1.16, 1.24, 1.4, 1.56][i]!, 9))
  })
  it('is written only within what is shown', () => {
    expect(eventsIn(eventsOf(CYCLES), { from: 1.05, to: 1.2 }).map((e) => e.cylinder)).toEqual([3, 2])
  })
  it('is left out where the numbers would stand on each other, or nothing marks a cycle', () => {
    const long = { ...CYCLES, starts_s: Array(40).fill(1), ends_s: Array(40).fill(1.2) } as Cycles
    expect(eventsIn(eventsOf(long), { from: 0, to: 5 })).toEqual([])
    expect(eventsOf({ ...CYCLES, available: false } as Cycles)).toEqual([])
    expect(eventsOf(null)).toEqual([])
  })
  it('knows the strokes of one cylinder, from where it fires; the last cycle is as long as the one before', () => {
    const strokes = strokesOf(eventsOf(CYCLES), 3)
    expect(strokes.map((stroke) => stroke.words)).toEqual([
      'power', 'exhaust', 'intake', 'compression', 'power', 'exhaust', 'intake', 'compression',
    ]) // prettier-ignore
    expect(strokes[0]?.from).toBeCloseTo(1.08, 9)
    expect(strokes[3]?.to).toBeCloseTo(1.4, 9)
    expect(strokes[7]?.to).toBeCloseTo(1.72, 9)
    expect(strokesOf(eventsOf(CYCLES), 4)).toEqual([])
    expect(strokesOf(eventsOf(CYCLES).slice(0, 3), 1)).toEqual([])
  })
  it('tells firing from an injector’s turn, and a sure cycle from one that may be a turn off', () => {
    const channels = [
      { name: 'A', role: 'injector_voltage' },
      { name: 'B', role: 'coil_control' },
    ]
    const by = (sync: string, certain = true) => areFirings({ ...CYCLES, sync, certain } as Cycles, channels)
    expect([by('A'), by('B'), by('B', false), by('C'), areFirings(null, channels)]).toEqual([
      false, true, false, false, false,
    ]) // prettier-ignore
  })
  it('knows at whose event the marks of a measurement stand', () => {
    expect(beginsWith(eventsOf(CYCLES), [1, 1.24])).toBe(1)
    expect(beginsWith(eventsOf(CYCLES), [1, 1.41])).toBe(3)
    expect(beginsWith(eventsOf(CYCLES), [])).toBeNull()
    expect(beginsWith([], [1])).toBeNull()
  })
})
