import { describe, expect, it } from 'vitest'
import { addressesOf, chosenAfter } from '@/sheet/useSheet'

describe('what stands on the sheet', () => {
  it('is ticked and taken off again', () => {
    expect(chosenAfter([], 'picture:1')).toEqual(['picture:1'])
    expect(chosenAfter(['picture:1', 'figure:2'], 'picture:1')).toEqual(['figure:2'])
  })
  it('of three the oldest falls away', () => {
    expect(chosenAfter(['picture:1', 'figure:2'], 'picture:3')).toEqual(['figure:2', 'picture:3'])
  })
})

describe('where it lies', () => {
  it('with or without the annex, as a page and on paper', () => {
    expect(addressesOf(7, false)).toEqual({ page: '/api/cases/7/sheet/', paper: '/api/cases/7/sheet.pdf' })
    expect(addressesOf(7, true).paper).toBe('/api/cases/7/sheet.pdf?whole=1')
  })
})
