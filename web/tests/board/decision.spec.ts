import { describe, expect, it } from 'vitest'
import { decisionFields, noDecision } from '@/board/decision'

describe('a decision as it is sent', () => {
  it('leaves out what is empty', () => {
    expect(decisionFields({ ...noDecision(), who: 'M. Ferrow', note: 'not now' })).toEqual({
      who: 'M. Ferrow',
      way: 'in_person',
      note: 'not now',
    })
  })
  it('names what was agreed, one after the other', () => {
    const fields = decisionFields({
      ...noDecision(),
      who: 'M. Ferrow',
      agreed: ['repair', 'open_fuel'],
      up_to_minutes: 90,
    })
    expect([fields['agreed'], fields['up_to_minutes']]).toEqual(['repair,open_fuel', '90'])
  })
})
