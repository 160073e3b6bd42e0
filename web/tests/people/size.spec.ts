import { describe, expect, it } from 'vitest'
import { sizeInWords } from '@/people/size'

describe('bytes as somebody would say them', () => {
  it.each([
    [0, '0 bytes'],
    [999, '999 bytes'],
    [1000, '1 kB'],
    [2_340_000, '2.3 MB'],
    [48_700_000_000, '49 GB'],
    [5e16, '50,000 TB'],
  ])('%d', (bytes, words) => expect(sizeInWords(bytes)).toBe(words))
})
