import { describe, expect, it } from 'vitest'
import {
  cylindersOpen,
  needsLead,
  offersFor,
  reachOf,
  sameLead,
  seenIn,
  type ColumnUse,
} from '@/evidence/columnUse'

const CLAMP = { kind: 'clamp', unit: 'A', per_volt: 1000, zero_v: 0, reference: null } as const
const offer = (role: string, kind: string, unit: string, per_volt: number | null) => ({
  role,
  words: '',
  fits: false,
  lead: { kind, unit, per_volt, zero_v: 0, reference: null },
})
const LEADS = [
  offer('starter_current', 'clamp', 'A', 1000),
  offer('starter_current', 'clamp', 'A', null),
  offer('coil_control', 'attenuator', 'V', 10),
  offer('cylinder_pressure', 'transducer', 'bar', null),
]
function use(role: string, unit: string, more: Partial<ColumnUse> = {}): ColumnUse {
  const guess = { name: 'c', unit, role, cylinder: null, sync: false, preview: [], chances: [], leads: LEADS, lead: null, remembered: '', height: 0.2, events_hz: null } // prettier-ignore
  return { column: 'c', role, unit, cylinder: null, sync: false, lead: null, guess, ...more } as ColumnUse
}

describe('what a column came through', () => {
  it('is asked only of volts, and of what a lead stands before', () => {
    expect(offersFor(use('starter_current', 'mV')).map((o) => o.lead.per_volt)).toEqual([1000, null])
    expect(offersFor(use('starter_current', 'A'))).toEqual([])
    expect(offersFor(use('time', 'V'))).toEqual([])
    expect(needsLead(use('coil_control', 'V'))).toBe(false)
    expect(needsLead(use('cylinder_pressure', 'V'))).toBe(true)
  })
  it('is the same lead whatever is left out of it', () => {
    expect(sameLead(CLAMP, { kind: 'clamp', unit: 'A', per_volt: 1000 } as typeof CLAMP)).toBe(true)
    expect(sameLead(CLAMP, { ...CLAMP, per_volt: 100 as 1000 })).toBe(false)
    expect(sameLead(null, CLAMP)).toBe(false)
  })
})

describe('how far a column reaches', () => {
  it('shows at once what a wrong clamp would do', () => {
    expect(reachOf(use('starter_current', 'V', { lead: CLAMP }))).toBe('200 A')
    expect(reachOf(use('starter_current', 'mV', { lead: CLAMP }))).toBe('0.2 A')
  })
  it('is not told through a lead that nobody knows', () => {
    expect(reachOf(use('starter_current', 'V'))).toBe('')
    expect(
      reachOf(use('starter_current', 'V', { lead: { ...CLAMP, per_volt: null as unknown as 1000 } })),
    ).toBe('')
  })
  it('is as written where no lead is needed', () => {
    expect(reachOf(use('coil_control', 'V'))).toBe('0.2 V')
    expect(reachOf(use('time', 's'))).toBe('')
    const battery = use('battery_voltage', 'V')
    expect(reachOf({ ...battery, guess: { ...battery.guess, preview: [9.8, 12.6] } })).toBe('12.6 V')
  })
})

describe('what is seen, and what is left open', () => {
  it('attempts are counted and events told as speed', () => {
    expect(seenIn(use('starter_current', 'A'), [[0, 1]])).toBe('cranks once')
    expect(seenIn(use('starter_current', 'A'), [[0, 0.2], [0.5, 1]])).toBe('cranks 2 times') // prettier-ignore
    const sync = use('coil_control', 'V')
    expect(seenIn({ ...sync, guess: { ...sync.guess, events_hz: 2 } }, [])).toBe('once a cycle at 240 rpm')
    expect(seenIn(sync, [])).toBe('')
  })
  it('a sync and each of several leads needs its cylinder; one clamp on a shared feed does not', () => {
    expect(cylindersOpen([use('injector_current', 'A')])).toEqual([])
    expect(cylindersOpen([use('coil_control', 'V', { sync: true })])).toEqual(['the cylinder of c'])
    const two = [
      use('secondary_voltage', 'kV', { cylinder: 1 }),
      use('secondary_voltage', 'kV', { column: 'd' }),
    ]
    expect(cylindersOpen(two)).toEqual(['the cylinder of d'])
  })
})
