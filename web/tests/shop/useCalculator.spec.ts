import { describe, expect, it } from 'vitest'
import { figure, useCalculator } from '@/shop/useCalculator'
import { settled, using } from '../mounting'

const quantity = (key: string, example: number, from_case: number | null = null) => ({
  key,
  words: key,
  unit: 'V',
  example,
  from_case,
})
const CALCULATOR = {
  id: 'sum',
  title: 'Sum',
  needed: '',
  formula: 'a + b',
  came_from: '',
  beware: '',
  given: [quantity('a', 2, 7), quantity('b', 3)],
  found: [quantity('sum', 5)],
}
type Row = { key: string; value: number }
const sum = (given: Row[]) => ({
  found: [{ key: 'sum', value: given.reduce((all, row) => all + row.value, 0) }],
})

describe('a calculator', () => {
  it('begins with what the case knows and asks once every line is filled', async () => {
    const asked: Row[][] = []
    const { made } = using(() =>
      useCalculator(CALCULATOR, (given) => {
        asked.push(given)
        return Promise.resolve(sum(given))
      }),
    )
    expect(made.typed.value).toEqual({ a: 7, b: null })
    expect(asked).toEqual([])
    made.typed.value['b'] = 1
    await settled()
    expect(made.found.value).toEqual({ sum: 8 })
    made.typed.value['b'] = null
    await settled()
    expect(made.found.value).toEqual({})
  })
  it('shows its worked example', async () => {
    const { made } = using(() => useCalculator(CALCULATOR, (given) => Promise.resolve(sum(given))))
    made.showExample()
    await settled()
    expect(made.found.value).toEqual({ sum: 5 })
  })
  it('a late answer to earlier numbers never shows', async () => {
    const waiting: (() => void)[] = []
    const { made } = using(() =>
      useCalculator(CALCULATOR, (given) => new Promise((done) => waiting.push(() => done(sum(given))))),
    )
    made.typed.value = { a: 1, b: 1 }
    await settled()
    made.typed.value = { a: 10, b: 10 }
    await settled()
    waiting[1]!()
    await settled()
    waiting[0]!()
    await settled()
    expect(made.found.value).toEqual({ sum: 20 })
  })
  it('what is refused is said, and no figure stands', async () => {
    const { made } = using(() =>
      useCalculator(CALCULATOR, () =>
        Promise.reject({ what: '1 V is out of range.', where: 'a', remedy: '' }),
      ),
    )
    made.showExample()
    await settled()
    expect(made.problem.value).not.toBeNull()
    expect(made.found.value).toEqual({})
  })
})

describe('a figure', () => {
  it.each([
    [0, '0'],
    [0.012345, '0.0123'],
    [1.5, '1.5'],
    [40, '40'],
    [63.2456, '63.2'],
    [1966.66, '1967'],
    [-2.3456, '-2.35'],
  ])('%s reads %s', (value, words) => expect(figure(value)).toBe(words))
})
