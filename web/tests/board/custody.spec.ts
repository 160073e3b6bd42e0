import { describe, expect, it } from 'vitest'
import { custodyInWords } from '@/board/custody'

const now = new Date(2026, 10, 30, 9, 0)
const checked = (at: Date, changed: string[] = []) => ({
  at: at.toISOString(),
  captures: 2,
  readings: 3,
  changed,
})

describe('what the check of the evidence found', () => {
  it('says today where it was today', () => {
    expect(custodyInWords(checked(new Date(2026, 10, 30, 3, 12)), now)).toMatch(
      /^evidence intact, checked today .*3.12/,
    )
  })
  it('names the day where it was earlier', () => {
    expect(custodyInWords(checked(new Date(2026, 10, 28, 3, 12)), now)).toContain('28')
  })
  it('claims nothing where nothing was checked, or something was changed', () => {
    expect(custodyInWords(null, now)).toBe('')
    expect(custodyInWords(checked(now, ['capture cranking: changed']), now)).toBe('')
  })
})
