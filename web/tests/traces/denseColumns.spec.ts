import { describe, expect, it } from 'vitest'
import { bars, type Area } from '@/traces/denseColumns'

const area: Area = { from: 0, to: 10, bottom: 0, top: 100, width: 10, height: 100 }
const rows = ({ begins, ends }: ReturnType<typeof bars>) => [...begins].map((begin, i) => [begin, ends[i]])

describe('bars of a dense trace', () => {
  it('reach from the highest to the lowest value of their column', () => {
    const times = [2, 2.1, 2.2, 2.3]
    const drawn = rows(bars(times, [20, 80, 50, 50], area, 0))
    expect(drawn[2]).toEqual([20, 79])
    expect(drawn.filter(([begin, end]) => begin! <= end!)).toHaveLength(1)
  })
  it('are joined to the column before, so that an edge is a line', () => {
    const drawn = rows(bars([2, 3], [10, 90], area, 0))
    expect(drawn[3]).toEqual([10, 89])
  })
  it('carry the last value over columns in which none lies', () => {
    const drawn = rows(bars([1, 5], [40, 40], area, 2))
    for (const column of [1, 2, 3, 4, 5]) expect(drawn[column]).toEqual([59, 60])
  })
  it('leave nothing where there is no value', () => {
    const drawn = rows(bars([1, 2, 3], [Number.NaN, Number.NaN, Number.NaN], area, 2))
    expect(drawn.every(([begin, end]) => begin! > end!)).toBe(true)
  })
  it('never leave their area, whatever is beyond it', () => {
    const times = Float64Array.from({ length: 400 }, (_, i) => -2 + i * 0.04)
    const values = Float32Array.from({ length: 400 }, (_, i) => 500 * Math.sin(i))
    for (const [begin, end] of rows(bars(times, values, area, 3))) {
      expect(begin).toBeGreaterThanOrEqual(0)
      expect(end).toBeLessThan(100)
    }
  })
  it('keep a spike of one sample among thousands', () => {
    const times = Float64Array.from({ length: 5000 }, (_, i) => i * 0.002)
    const values = new Float32Array(5000).fill(10)
    values[3210] = 95
    const drawn = rows(bars(times, values, area, 0))
    expect(Math.min(...drawn.map(([begin]) => begin!))).toBe(5)
  })
})
