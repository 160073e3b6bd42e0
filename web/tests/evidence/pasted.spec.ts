import { describe, expect, it } from 'vitest'
import { cellsOf, laidOut, numberIn } from '@/evidence/pasted'

const ORDER = [1, 3, 4, 2]
const ROWS = [
  { key: 'dry', words: 'Dry' },
  { key: 'wet', words: 'With oil' },
]

describe('a number in a cell', () => {
  it.each([
    ['1240', 1240],
    ['12,4', 12.4],
    ['1.240,5', 1240.5],
    ['1,240.5', 1240.5],
    ['1240 kPa', 1240],
    ['-0.5', -0.5],
    ['1 240', 1240],
    ['2.5e3', 2500],
  ])('%s is %d', (cell, value) => expect(numberIn(cell)).toBe(value))
  it.each(['', '-', 'OL', 'n/a', 'open', '--'])('"%s" is none', (cell) => expect(numberIn(cell)).toBeNull())
})

describe('a table out of a spreadsheet', () => {
  it('is no table where one cell was copied', () => {
    expect(cellsOf('12,4')).toBeNull()
    expect(laidOut('12,4', ROWS, ORDER)).toBeNull()
  })
  it('goes to the cylinders that its first row names, whatever their order', () => {
    expect(laidOut('Cyl 2\tCyl 1\tCyl 3\tCyl 4\n10\t11\t12\t13\n', ROWS, ORDER)).toEqual({
      values: { dry: { 2: 10, 1: 11, 3: 12, 4: 13 } },
      said: '',
    })
  })
  it('goes to the rows that its first column names', () => {
    const text = '\t1\t2\t3\t4\nWith oil\t20\t21\t22\t23\nDry\t10\t11\t12\t13'
    expect(laidOut(text, ROWS, ORDER)?.values).toEqual({
      wet: { 1: 20, 2: 21, 3: 22, 4: 23 },
      dry: { 1: 10, 2: 11, 3: 12, 4: 13 },
    })
  })
  it('is read downwards as well', () => {
    expect(
      laidOut('1\t12,1\t12,9\r\n2\t12,2\t\r\n3\t4,0\t9,1\r\n4\t12,4\t13\r\n', ROWS, ORDER)?.values,
    ).toEqual({
      dry: { 1: 12.1, 2: 12.2, 3: 4, 4: 12.4 },
      wet: { 1: 12.9, 3: 9.1, 4: 13 },
    })
  })
  it('without names is taken as one to the last, and says so', () => {
    const found = laidOut('12.1\n12.2\n4.0\n12.4', ROWS, ORDER)
    expect(found?.values).toEqual({ dry: { 1: 12.1, 2: 12.2, 3: 4, 4: 12.4 } })
    expect(found?.said).toContain('cylinder 1, 2, 3, 4')
    expect(laidOut('12.1\t12.2\t4.0\t12.4', ROWS, ORDER)?.values).toEqual(found?.values)
  })
  it('of another number of cylinders, or of words, fills nothing', () => {
    expect(laidOut('1\t2\t3', ROWS, ORDER)).toBeNull()
    expect(laidOut('low\tfine\tfine\tfine', ROWS, ORDER)).toBeNull()
    expect(laidOut('1\t2\t3\t9\n10\t11\t12\t13', [ROWS[0]!], ORDER)).toBeNull()
  })
})
