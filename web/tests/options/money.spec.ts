import { describe, expect, it } from 'vitest'
import { changedPrices, moneyInWords } from '@/options/money'

describe('money', () => {
  it('is said with two digits, and what has no price says so', () => {
    expect(moneyInWords(1234.5)).toBe(
      (1234.5).toLocaleString(undefined, { minimumFractionDigits: 2, maximumFractionDigits: 2 }),
    )
    expect(moneyInWords(0)).toMatch(/^0/)
    expect(moneyInWords(null)).toBe('not priced')
  })
  it('is sent only where it differs, and emptied fields take a price off', () => {
    const kept = [
      { item: 'coil', amount: 60 },
      { item: 'plug', amount: 9 },
      { item: 'lead', amount: null },
    ]
    expect(changedPrices(kept, { coil: 65, plug: null, lead: null })).toEqual([
      { item: 'coil', amount: 65 },
      { item: 'plug', amount: null },
    ])
    expect(changedPrices(kept, { coil: 60, plug: 9 })).toEqual([])
  })
})
