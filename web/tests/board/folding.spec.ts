import { describe, expect, it } from 'vitest'
import { FOLD_FROM, foldedOf } from '@/board/folding'
import type { Row } from '@/board/useBoard'

const row = (id: string, changed: object = {}) =>
  ({
    id, usable: true, withdrawn: false, doubted: '', reasons: [], assigned: true, phase: 0,
    cells: [{ state: 'normal' }, { state: 'normal' }], ...changed,
  }) as unknown as Row // prettier-ignore
const many = (...special: Row[]) => [
  ...special,
  ...Array.from({ length: FOLD_FROM }, (_, i) => row(`even-${i}`)),
]

describe('rows of a board with many tests', () => {
  it('stand in full while they are few', () => {
    expect(foldedOf(many().slice(1)).size).toBe(0)
    expect(foldedOf(many()).size).toBe(FOLD_FROM)
  })
  it.each([
    ['accuses', { cells: [{ state: 'low' }, { state: 'normal' }] }],
    ['is not used', { usable: false }],
    ['was withdrawn', { withdrawn: true }],
    ['is doubted', { doubted: 'perhaps misread' }],
    ['has something to say', { reasons: [{ statement: 'clipped' }] }],
    ['is not assigned', { assigned: false }],
    ['was taken after a repair', { phase: 2 }],
  ])('never fold what %s', (_why, changed) => {
    expect(foldedOf(many(row('special', changed))).has('special')).toBe(false)
  })
})
