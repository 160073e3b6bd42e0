import { describe, expect, it } from 'vitest'
import { nextScaling, tamed } from '@/traces/scaling'

describe('scales of rows', () => {
  it('go round by one key', () => {
    expect(nextScaling('same')).toBe('tamed')
    expect(nextScaling('tamed')).toBe('own')
    expect(nextScaling('own')).toBe('same')
  })
  it('leave a wild one out, so that the others keep their height', () => {
    const [low, high] = tamed([
      [0, 10],
      [0, 11],
      [-1, 10],
      [-40, 60],
    ])
    expect(high).toBeLessThan(20)
    expect(high).toBeGreaterThan(11)
    expect(low).toBeGreaterThan(-10)
    expect(low).toBeLessThanOrEqual(-1)
  })
  it('are as narrow as what is there where nothing is wild', () => {
    expect(
      tamed([
        [1, 9],
        [0, 10],
      ]),
    ).toEqual([0, 10])
    expect(tamed([])).toEqual([0, 1])
  })
})
