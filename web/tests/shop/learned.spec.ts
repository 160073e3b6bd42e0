import { describe, expect, it } from 'vitest'
import { byKind, shownHere } from '@/shop/learned'

const line = (kind: 'prior' | 'minutes' | 'agreement', shipped: number, here: number, on = true) => ({
  key: `${kind}:${here}`,
  kind,
  words: 'x',
  shipped,
  here,
  from_what: '',
  on,
})

describe('lines of what was learned', () => {
  it('stand by kind, and kinds without a line are left out', () => {
    expect(byKind([line('minutes', 10, 12), line('prior', 0.02, 0.05)]).map((g) => g.kind)).toEqual([
      'prior',
      'minutes',
    ])
  })
  it('a share that hardly moved is left out of sight unless it was switched off', () => {
    const shares = [
      line('prior', 0.02, 0.0202),
      line('prior', 0.02, 0.0204, false),
      line('prior', 0.02, 0.01),
    ]
    expect(byKind(shares)[0]!.lines.map((l) => l.here)).toEqual([0.0204, 0.01])
  })
  it.each([
    ['prior', 0.0525, '5.3 %'],
    ['minutes', 14.4, '14 min'],
    ['agreement', 0.734, '0.73'],
  ] as const)('%s %s reads %s', (kind, value, words) => expect(shownHere(kind, value)).toBe(words))
})
