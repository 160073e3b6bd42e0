import { describe, expect, it } from 'vitest'
import { asSvg, ticks } from '@/traces/picture'
import { reach } from '@/traces/useFolds'

describe('ticks of an axis', () => {
  it.each([
    [0, 720, [0, 200, 400, 600]],
    [-0.3, 0.3, [-0.3, -0.2, -0.1, 0, 0.1, 0.2, 0.3]],
    [5, 5, []],
  ])('from %d to %d are round', (from, to, expected) => {
    expect(ticks(from, to)).toEqual(expected)
  })
})

describe('a picture', () => {
  it('writes words of a case as text, never as marks', () => {
    const panel = {
      title: 'a < b & "c"', across: [0, 1] as const, acrossUnit: 's', up: [0, 1] as const, height: 100,
      lines: [{ x: [0, 1], y: [0, 1], tone: 'plain' as const }], rules: [],
    } // prettier-ignore
    const svg = asSvg([panel], '<script>', 'about')
    expect(svg).toContain('a &lt; b &amp; &quot;c&quot;')
    expect(svg).not.toContain('<script>')
  })
})

describe('the reach of some lines', () => {
  it('has a little room, and is never nothing', () => {
    const [low, high] = reach([new Float32Array([1, 5]), new Float32Array([3])])
    expect(low).toBeLessThan(1)
    expect(high).toBeGreaterThan(5)
    expect(reach([])).toEqual([0, 1])
    const flat = reach([new Float32Array([2, 2])])
    expect(flat[1]).toBeGreaterThan(flat[0])
  })
})
