import { describe, expect, it } from 'vitest'
import { loadWords, minutesInWords, wordFor, words } from '@/shared/words'
import { serve } from '../server'

describe('words', () => {
  it('come from the server; a value nobody knows is shown as it is', async () => {
    const said = {
      roles: { coil_current: 'Coil current' },
      tests: {},
      causes: {},
      statuses: {},
      settings: [],
      units: [],
    }
    serve(async () => Response.json(said))
    await loadWords()
    expect(wordFor('roles', 'coil_current')).toBe('Coil current')
    expect(wordFor('roles', 'new_role')).toBe('new_role')
    expect(words.settings).toEqual([])
  })
  it.each([
    [0, '0 min'],
    [89, '89 min'],
    [90, '1 h 30 min'],
    [47 * 60 + 59, '47 h 59 min'],
    [49 * 60, '2 days'],
  ])('say %d minutes as %s', (minutes, text) => {
    expect(minutesInWords(minutes)).toBe(text)
  })
})
