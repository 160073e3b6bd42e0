import { describe, expect, it } from 'vitest'
import { between, leadReads, percent, percentOf } from '@/trust/shares'

describe('a share with its interval', () => {
  it('is told in per cent, and not at all where nothing was counted', () => {
    const tally = { hits: 12, count: 14, low: 0.6, high: 0.96 }
    expect(percent(tally)).toBe('85.7 %')
    expect(between(tally)).toBe('12 of 14, 60 to 96\u00a0%')
    expect(percent({ hits: 0, count: 0, low: 0, high: 1 })).toBe('–')
    expect(percentOf(null)).toBe('–')
  })
})

describe('a lead beside the others', () => {
  const lead = { words: 'clamp 100 mV/A', share: 0.92, low: 0.9, high: 0.94, captures: 5, is_off: true }
  it('reads low, high, or as the others do', () => {
    expect(leadReads(lead)).toBe(
      'Your clamp 100 mV/A reads 8 % low (5 captures, 90 to 94\u00a0% of the others).',
    )
    expect(leadReads({ ...lead, share: 1.1 })).toContain('reads 10 % high')
    expect(leadReads({ ...lead, is_off: false })).toContain('reads as the others do')
  })
})
