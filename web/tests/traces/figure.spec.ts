import { describe, expect, it } from 'vitest'
import { figureStretch } from '@/traces/figure'

describe('the stretch of a figure', () => {
  const looked = { from: 2, to: 6 }
  it('lies between the cursors, in whichever order they were set', () => {
    expect(figureStretch([5, 3], looked)).toEqual({ from_s: 3, to_s: 5 })
  })
  it('is what is looked at where a cursor is missing or both stand at one place', () => {
    for (const cursors of [
      [null, 3],
      [3, null],
      [3, 3],
    ] as const)
      expect(figureStretch(cursors, looked)).toEqual({ from_s: 2, to_s: 6 })
  })
})
