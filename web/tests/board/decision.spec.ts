import { describe, expect, it } from 'vitest'
import { decisionFields, noDecision, withOption } from '@/board/decision'

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

describe('a way that is picked', () => {
  const proper = { kind: 'proper', words: 'a new coil', opens_engine: false }
  it('brings what it needs a yes to, once', () => {
    const given = withOption({ ...noDecision(), agreed: ['repair'] }, proper)
    expect([given.option, given.agreed]).toEqual(['a new coil', ['repair']])
    expect(withOption(noDecision(), { ...proper, opens_engine: true }).agreed).toEqual([
      'repair',
      'open_engine',
    ])
    expect(withOption(noDecision(), { ...proper, kind: 'test_first' }).agreed).toEqual(['testing'])
  })
  it('to do nothing is a yes to nothing', () => {
    const given = withOption({ ...noDecision(), agreed: ['repair'] }, { ...proper, kind: 'nothing' })
    expect(given.agreed).toEqual([])
  })
  it('is taken off by picking it again', () => {
    expect(withOption({ ...noDecision(), option: 'a new coil' }, proper).option).toBe('')
  })
})
