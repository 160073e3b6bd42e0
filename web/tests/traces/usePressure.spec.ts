import { afterEach, describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { queries } from '@/shared/useLoaded'
import { usePressure } from '@/traces/usePressure'
import type { Capture } from '@/traces/useTraces'
import { settled, using } from '../mounting'
import { serve } from '../server'

afterEach(() => queries.clear())
const mark = (name: string, usual_deg: number | null, measured_deg: number | null) => ({
  name,
  usual_deg,
  measured_deg,
  measured_at: measured_deg,
})
const REFERENCE = {
  position: 1,
  values: [1, 2, 3],
  peak_bar: 14.1,
  measured_peak_bar: 13.2,
  marks: [
    mark('intake closes', -130, -60),
    mark('exhaust opens', 140, 110),
    mark('intake opens', null, -350),
    mark('not found', 0, null),
    mark('as it belongs', 100, 108),
  ],
}
async function shown(role: string) {
  let asked = 0
  serve(() => (asked++, Response.json([REFERENCE])))
  const { made } = using(() => usePressure({ id: 5 } as Capture, ref(role)))
  await settled()
  return { ...made, asked }
}

describe('the computed pressure under a measured one', () => {
  it('is asked for where pressure is looked at, and nowhere else', async () => {
    expect((await shown('cylinder_pressure')).asked).toBe(1)
    expect((await shown('coil_current')).asked).toBe(0)
  })
  it('gives the line and the words of its own channel only', async () => {
    const { line, words } = await shown('cylinder_pressure')
    expect([...line(1)!]).toEqual([1, 2, 3])
    expect(line(0)).toBeNull()
    expect(words(1)).toBe('peak 13.2 bar absolute, computed 14.1')
    expect(words(0)).toBe('')
  })
  it('names valve events where they were found, late and early from fifteen degrees on', async () => {
    const { rules } = await shown('cylinder_pressure')
    expect(rules(1)).toEqual([
      { at: -60, words: 'intake closes, 70° late' },
      { at: 110, words: 'exhaust opens, 30° early' },
      { at: -350, words: 'intake opens' },
      { at: 108, words: 'as it belongs' },
    ])
    expect(rules(0)).toEqual([])
  })
})
