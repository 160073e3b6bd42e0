import { describe, expect, it } from 'vitest'
import { commonValue, nextCell } from '@/evidence/gridMoves'

describe('keys in a table of readings', () => {
  it('goes on through the row, then to the next row, then out', () => {
    expect(nextCell({ row: 0, column: 1 }, 'Enter', false, 2, 4)).toEqual({ row: 0, column: 2 })
    expect(nextCell({ row: 0, column: 3 }, 'Enter', false, 2, 4)).toEqual({ row: 1, column: 0 })
    expect(nextCell({ row: 1, column: 3 }, 'Enter', false, 2, 4)).toBeNull()
  })
  it('goes back with shift, and not before the first', () => {
    expect(nextCell({ row: 1, column: 0 }, 'Enter', true, 2, 4)).toEqual({ row: 0, column: 3 })
    expect(nextCell({ row: 0, column: 0 }, 'Enter', true, 2, 4)).toEqual({ row: 0, column: 0 })
  })
  it('changes the row with the arrows and stays inside', () => {
    expect(nextCell({ row: 0, column: 2 }, 'ArrowDown', false, 2, 4)).toEqual({ row: 1, column: 2 })
    expect(nextCell({ row: 1, column: 2 }, 'ArrowDown', false, 2, 4)).toEqual({ row: 1, column: 2 })
    expect(nextCell({ row: 0, column: 2 }, 'ArrowUp', false, 2, 4)).toEqual({ row: 0, column: 2 })
  })
})

describe('the same for all others', () => {
  it('offers the one value there is, and nothing once they differ or all are filled', () => {
    const order = [1, 3, 4, 2]
    expect(commonValue({}, order)).toBeUndefined()
    expect(commonValue({ 3: 0 }, order)).toBe(0)
    expect(commonValue({ 3: 12, 1: 12 }, order)).toBe(12)
    expect(commonValue({ 3: 12, 1: 11 }, order)).toBeUndefined()
    expect(commonValue({ 1: 5, 3: 5, 4: 5, 2: 5 }, order)).toBeUndefined()
    expect(commonValue({ 1: false, 3: true }, order)).toBe(true)
  })
})
