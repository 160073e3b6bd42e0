import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import type { Schemas } from '@/api/client'
import { codesTyped, emptyJob, jobOf, mended, written } from '@/intake/job'
import CodesPanel from '@/visit/CodesPanel.vue'
import LabourClock from '@/visit/LabourClock.vue'
import PartsPanel from '@/visit/PartsPanel.vue'
import PastVisits from '@/visit/PastVisits.vue'
import TriedForm from '@/visit/TriedForm.vue'
import { dayInWords, labourInWords, labourOf, numbersTyped } from '@/visit/labour'
import { RouterLink } from '../mounting'

const SAID = { ...emptyJob(), complaint: 'Shakes' } as unknown as Schemas['SaidTold']
const VISIT = {
  vehicle: 1,
  notes: '',
  said: SAID,
  provoked: null,
  tried: '',
  labour_minutes: 42,
  working: [],
  own_clock: false,
  ceiling_words: '',
  code_reads: [],
  next_origin: 'after_clearing',
  history: [],
  parts: [],
} as unknown as Schemas['Visit']
const global = { stubs: { RouterLink } }

describe('what is mended', () => {
  it('is only what differs from what is kept', () => {
    const job = jobOf(SAID)
    expect(mended(job, SAID)).toEqual({})
    job.complaint = 'Shakes when cold'
    job.odometer_km = 120000
    expect(mended(job, SAID)).toEqual({ complaint: 'Shakes when cold', odometer_km: 120000 })
    expect(SAID.complaint).toBe('Shakes')
  })
  it('leaves rows out in which nothing stands', () => {
    const rows = [{ part: '' as const, words: ' ' }, { part: 'plug' as const }]
    expect(written(rows as Schemas['WorkDoneRequest'][])).toEqual([{ part: 'plug' }])
  })
  it('reads codes as they are pasted', () => {
    expect(codesTyped(' p0303, P0300;p0201 ').map((c) => c.code)).toEqual(['P0303', 'P0300', 'P0201'])
    expect(codesTyped('  ')).toEqual([])
  })
})

describe('labour', () => {
  it('stands beside what was agreed', () => {
    expect(labourInWords(42, null)).toBe('42 min of labour')
    expect(labourInWords(100, 120)).toBe('1 h 40 min of labour, 2 h 0 min agreed')
  })
  it('is started and stopped with one button, by who may', async () => {
    const clock = mount(LabourClock, { props: { visit: VISIT, may: true } })
    await clock.get('[data-test="clock"]').trigger('click')
    await clock.setProps({ visit: { ...VISIT, own_clock: true } })
    await clock.get('[data-test="clock"]').trigger('click')
    expect(clock.emitted('turn')).toEqual([[true], [false]])
    await clock.setProps({ may: false })
    expect(clock.find('[data-test="clock"]').exists()).toBe(false)
  })
  it('warns before what was agreed is passed, and says it once', () => {
    const visit = { ...VISIT, ceiling_words: '6 min left of the 60 agreed.' }
    expect(labourOf({ ...VISIT, said: { ...VISIT.said, ceiling_minutes: 60 } })).toContain('agreed')
    expect(labourOf({ ...visit, said: { ...VISIT.said, ceiling_minutes: 60 } })).not.toContain('agreed')
    expect(
      mount(LabourClock, { props: { visit, may: true } })
        .get('[data-test="ceiling"]')
        .text(),
    ).toBe('6 min left of the 60 agreed.')
  })
})

describe('numbers and days as they are typed', () => {
  it.each([
    ['0.61 0.62; 0,6', [0.61, 0.62, 0.6]],
    ['', []],
    ['0.6 OL', null],
    ['0.6 -1', null],
  ])('%j', (text, numbers) => expect(numbersTyped(text)).toEqual(numbers))
  it('shows a day as one of this place, and what is none as it stands', () => {
    expect(dayInWords('2026-03-02')).toBe(
      new Date(2026, 2, 2).toLocaleDateString(undefined, { dateStyle: 'medium' }),
    )
    expect(dayInWords('')).toBe('')
  })
})

describe('codes', () => {
  const mounted = (read: (body: Schemas['CodesReadRequest']) => Promise<boolean>, more = {}) =>
    mount(CodesPanel, {
      props: { codes: [], visit: VISIT, may: true, read, cleared: () => Promise.resolve(true), ...more },
    })
  it('are kept with where they come from, after clearing as come back', async () => {
    const read = vi.fn<(body: Schemas['CodesReadRequest']) => Promise<boolean>>(() => Promise.resolve(true))
    const panel = mounted(read)
    await panel.get('input[data-test="codes-typed"], [data-test="codes-typed"] input').setValue('p0303')
    await panel.get('form').trigger('submit')
    await flushPromises()
    expect(read).toHaveBeenCalledWith({
      codes: [{ code: 'P0303', status: 'stored' }],
      origin: 'after_clearing',
    })
  })
  it('can be none, with one key', async () => {
    const read = vi.fn<(body: Schemas['CodesReadRequest']) => Promise<boolean>>(() => Promise.resolve(true))
    const panel = mounted(read)
    expect(panel.get('[data-test="codes-keep"]').text()).toBe('Scanned, none')
    await panel.get('form').trigger('submit')
    expect(read.mock.calls[0]?.[0].codes).toEqual([])
  })
  it('say whether anybody scanned at all', () => {
    const none = {
      kind: 'read',
      codes: [],
      origin_words: 'as it arrived',
      by: 'Idris',
      at: '2026-01-01T10:00:00Z',
    }
    expect(
      mounted(() => Promise.resolve(true))
        .get('[data-test="codes"]')
        .text(),
    ).toBe('Not scanned yet.')
    const scanned = mounted(() => Promise.resolve(true), { visit: { ...VISIT, code_reads: [none] } })
    expect(scanned.get('[data-test="codes"]').text()).toBe('Scanned, none stored.')
  })
})

describe('the complaint tried', () => {
  it('needs the conditions', async () => {
    const keep = vi.fn(() => Promise.resolve(true))
    const form = mount(TriedForm, { props: { visit: VISIT, may: true, keep } })
    expect(form.get('[data-test="tried-keep"]').attributes('disabled')).toBeDefined()
    await form.get('input[data-test="tried-under"], [data-test="tried-under"] input').setValue('cold')
    await form.get('form').trigger('submit')
    expect(keep).toHaveBeenCalledWith({ provoked: true, under: 'cold' })
  })
})

describe('parts before fitting', () => {
  const bad = {
    id: 5,
    part: 'coil',
    cylinder: 3,
    fitted: 'new',
    condition: 'stands_off',
    reading: '9 ohm beside 0.6 ohm',
    condition_words: 'bad out of the box',
    peers: [0.6, 0.6],
    supplier: '',
    words: '',
    claim: true,
    by: '',
    at: '',
  } as Schemas['PartTold']
  it('lead to a claim where there is something to claim', () => {
    const panel = (part: Schemas['PartTold']) =>
      mount(PartsPanel, {
        props: {
          parts: [part],
          order: [1, 3, 4, 2],
          caseId: 8,
          may: false,
          keep: () => Promise.resolve(true),
        },
        global,
      })
    expect(panel(bad).get('a').attributes('data-to')).toBe('"/cases/8/claim/5"')
    expect(
      panel({ ...bad, claim: false })
        .find('a')
        .exists(),
    ).toBe(false)
  })
})

describe('earlier visits', () => {
  it('are a line each, a link where the case is of this shop', () => {
    const history = [
      { case: 7, on: '2026-03-02', odometer_km: 88000, words: 'coil dead' },
      { case: null, on: '2025-01-09', odometer_km: null, words: 'plug worn' },
    ]
    const list = mount(PastVisits, { props: { history }, global })
    expect(list.findAll('li')).toHaveLength(2)
    expect(list.findAll('a').map((a) => a.text())).toEqual(['coil dead'])
    expect(list.text()).toContain('from its package')
  })
})
