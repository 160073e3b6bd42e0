import { describe, expect, it } from 'vitest'
import { beyond, reading } from '@/traces/besideGood'

const figure = (high: number[], low: number[], level: '' | 'high' | 'low' = '') => ({
  test: 't',
  words: 'peak current',
  unit: 'A',
  low_here: 1,
  high_here: 2,
  usual: 1,
  spread: 0.1,
  captures: 1,
  level,
  high,
  low,
})

describe('beside known good captures', () => {
  it.each([
    [figure([], []), ''],
    [figure([3], []), '3 higher'],
    [figure([1, 3], [2]), '1, 3 higher; 2 lower'],
    [figure([], [], 'low'), 'all alike lower'],
  ])('who lies outside is said', (told, words) => expect(beyond(told)).toBe(words))
  it.each([
    [0.513, 0.5, '0.51'],
    [12.34, 12, '12.3'],
    [2.5, 100, '3'],
    [99.96, 100, '100'],
  ])('%s beside %s reads %s', (value, usual, words) => expect(reading(value, usual)).toBe(words))
})
