import { describe, expect, it } from 'vitest'
import { deviceInWords } from '@/people/device'

describe('what a browser says of itself', () => {
  it.each([
    [
      'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Safari/537.36',
      'Chromium on Linux',
    ],
    [
      'Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0',
      'Firefox on Windows',
    ],
    [
      'Mozilla/5.0 (iPad; CPU OS 18_0 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.0 Safari/604.1',
      'Safari on an iPad',
    ],
    ['Tablet of bay 2', 'Tablet of bay 2'],
    ['', 'a browser that does not say what it is'],
  ])('%s', (said, words) => expect(deviceInWords(said)).toBe(words))
})
