import { describe, expect, it } from 'vitest'
import {
  calculatesUnder,
  cautionsUnder,
  filledAt,
  firstChoices,
  isReady,
  hasEnds,
  placesUnder,
  usualUnder,
  type Form,
} from '@/evidence/forms'

const ORDER = [1, 3, 4, 2]

function form(changes: Partial<Form> = {}): Form {
  return {
    test: 'resistance', title: 'Resistance', stage: 'circuits', stage_words: 'Wires', hint: '', cautions: [], why_not: '', kept: 'Resistances',
    rows: [], choices: [], entries: [], least: 1, usual: {}, along: [], places: [], calculates: [], between: false,
    ...changes,
  }
} // prettier-ignore
const row = (key: string, changes = {}) => ({
  key,
  words: key,
  options: [],
  optional: false,
  alone: false,
  tick: false,
  ...changes,
})
const OHMS = form({ rows: [row('ohms'), row('open', { tick: true }), row('note', { optional: true })] })

describe('cylinders that are filled in', () => {
  it('come in firing order, whatever order they were typed in', () => {
    expect(filledAt(OHMS, { ohms: { 2: 14, 1: 15 } }, ORDER)).toEqual([1, 2])
  })
  it('count by their tick alone, and not by what is optional', () => {
    expect(filledAt(OHMS, { open: { 3: true, 4: false }, note: { 1: 'x' } }, ORDER)).toEqual([3])
  })
  it('count at zero, and not where the box was emptied again', () => {
    expect(filledAt(OHMS, { ohms: { 1: 0, 2: null, 3: undefined, 4: '' } }, ORDER)).toEqual([1])
  })
  it('need every row', () => {
    const both = form({ rows: [row('before'), row('after')] })
    expect(filledAt(both, { before: { 1: 700, 2: 700 }, after: { 2: 650 } }, ORDER)).toEqual([2])
  })
})

describe('a row that is enough alone', () => {
  const ear = form({ rows: [row('before'), row('after'), row('heard', { alone: true })] })
  it('fills a cylinder without the others', () => {
    expect(filledAt(ear, { heard: { 4: 'changed' }, before: { 1: 700 } }, ORDER)).toEqual([4])
  })
  it('and the others fill one without it', () => {
    expect(filledAt(ear, { before: { 1: 700 }, after: { 1: 650 }, heard: { 1: '' } }, ORDER)).toEqual([1])
  })
})

describe('a form', () => {
  it('is ready with as many cylinders as it needs', () => {
    const two = { ...OHMS, least: 2 }
    expect(isReady(two, { ohms: { 1: 1 } }, {}, ORDER)).toBe(false)
    expect(isReady(two, { ohms: { 1: 1, 2: 1 } }, {}, ORDER)).toBe(true)
  })
  it('wants its entries, but not the optional ones, and no blanks for words', () => {
    const entry = { key: 'who', words: 'who', optional: false, signed: false, text: true }
    const asks = form({ least: 0, entries: [entry, { ...entry, key: 'more', optional: true }] })
    expect(isReady(asks, {}, { who: '  ' }, ORDER)).toBe(false)
    expect(isReady(asks, {}, { who: 'M. Ferrow' }, ORDER)).toBe(true)
  })
})

describe('choices', () => {
  const item = {
    key: 'item',
    words: 'Of the',
    options: [
      { value: 'coil_primary', words: 'Coil primary', why_not: '', cautions: [] as string[] },
      { value: 'injector', words: 'Injector', why_not: '', cautions: [] as string[] },
    ],
  }
  const heat = {
    key: 'temperature',
    words: 'Measured',
    options: [{ value: 'cold', words: 'Cold', why_not: '', cautions: [] as string[] }],
  }
  const chosen = form({
    choices: [item, heat],
    usual: { coil_primary: '0.3 to 2.6', injector: '10 to 19' },
    along: ['injector'],
    places: ['fuse 12'],
    calculates: ['injector'],
  })
  it('open at the usual ones, or at what the plan asked for', () => {
    expect(firstChoices(chosen, '')).toEqual({ item: 'coil_primary', temperature: 'cold' })
    expect(firstChoices(chosen, 'injector')).toEqual({ item: 'injector', temperature: 'cold' })
  })
  it('never open at what must not be done on this engine', () => {
    const barred = item.options.map((o) => ({ ...o, why_not: o.value === 'coil_primary' ? 'Not here.' : '' }))
    const safe = form({ choices: [{ ...item, options: barred }] })
    expect(firstChoices(safe, '')).toEqual({ item: 'injector' })
    expect(firstChoices(safe, 'coil_primary')).toEqual({ item: 'injector' })
    expect(firstChoices(chosen, 'radio')).toEqual({ item: 'coil_primary', temperature: 'cold' })
  })
  it('decide which sound reading is shown, and what is asked beside it', () => {
    expect(usualUnder(chosen, { item: 'injector' })).toBe('10 to 19')
    expect(placesUnder(chosen, { item: 'injector' })).toEqual(['fuse 12'])
    expect(calculatesUnder(chosen, { item: 'injector' })).toBe(true)
    expect(placesUnder(chosen, { item: 'coil_primary' })).toEqual([])
    expect(calculatesUnder(chosen, { item: 'coil_primary' })).toBe(false)
  })
  it('may be none, and one sound reading stands for all', () => {
    expect(usualUnder(form({ usual: { '': '8 bar and more' } }), {})).toBe('8 bar and more')
    expect(usualUnder(form(), {})).toBe('')
  })
})

describe('cautions', () => {
  const option = (value: string, cautions: string[]) => ({ value, words: value, why_not: '', cautions })
  const way = {
    key: 'by',
    words: 'by',
    options: [option('command', []), option('spark', ['sparks', 'always'])],
  }
  const balance = form({ cautions: ['always'], choices: [way] })
  it('are those that always hold, and those of what is chosen, each once', () => {
    expect(cautionsUnder(balance, { by: 'command' })).toEqual(['always'])
    expect(cautionsUnder(balance, { by: 'spark' })).toEqual(['always', 'sparks'])
  })
})

describe('from one place to another', () => {
  const pins = form({ between: true, places: ['fuse', 'plug', 'unit'] })
  it('every place is offered whatever is chosen first', () => {
    expect(placesUnder(pins, {})).toEqual(['fuse', 'plug', 'unit'])
  })
  it('both ends must be named', () => {
    expect(hasEnds(pins, { place: 'fuse' })).toBe(false)
    expect(hasEnds(pins, { place: 'fuse', place_to: 'unit' })).toBe(true)
    expect(hasEnds(form(), {})).toBe(true)
  })
})
