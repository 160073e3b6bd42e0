import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'

const css = readFileSync('src/app/theme.css', 'utf8')
const [, daylight = '', dark = ''] = css.split(/^:root[^{]*\{/m)
const colours = (block: string) =>
  new Map([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6})\b/g)].map(([, name, value]) => [name!, value!]))
const BAYS = { day: colours(daylight), night: new Map([...colours(daylight), ...colours(dark)]) }

/** WCAG 2.2, relative luminance and contrast ratio. */
const linear = (part: number) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4)
const luminance = (hex: string) => {
  const [r, g, b] = [1, 3, 5].map((i) => linear(parseInt(hex.slice(i, i + 2), 16) / 255)) as [
    number,
    number,
    number,
  ]
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
const contrast = (one: string, other: string) => {
  const [low, high] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [number, number]
  return (high + 0.05) / (low + 0.05)
}

describe('the measure of contrast', () => {
  it('is that of the examples in WCAG 2.2 and its notes', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 9)
    expect(contrast('#767676', '#ffffff')).toBeGreaterThan(4.5)
    expect(contrast('#777777', '#ffffff')).toBeLessThan(4.5)
  })
})

describe.each(Object.entries(BAYS))('the %s bay', (_, bay) => {
  const of = (name: string) => {
    const found = bay.get(name)
    if (!found) throw new Error(`no colour ${name}`)
    return found
  }
  it.each(['ink', 'ink-soft', 'alarm-ink'])('has text in %s that can be read on every ground', (text) => {
    for (const ground of ['work', 'bench']) expect(contrast(of(text), of(ground))).toBeGreaterThanOrEqual(4.5)
  })
  it('has text that can be read on the stripe of the accused', () => {
    expect(contrast(of('ink'), of('stripe'))).toBeGreaterThanOrEqual(4.5)
  })
  it.each(['trace', 'alarm', 'ink'])('draws %s so that it is seen (1.4.11: 3)', (line) => {
    for (const ground of ['work', 'bench', 'stripe'])
      expect(contrast(of(line), of(ground))).toBeGreaterThanOrEqual(3)
  })
  it('has a rail that can be read', () => {
    for (const ground of ['rail', 'rail-on'])
      expect(contrast(of('rail-ink'), of(ground))).toBeGreaterThanOrEqual(4.5)
  })
})
