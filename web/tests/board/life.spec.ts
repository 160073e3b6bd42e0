import { mount } from '@vue/test-utils'
import { RouterLink } from '../mounting'
import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import CylinderPicker from '@/board/CylinderPicker.vue'
import LifeBar from '@/board/LifeBar.vue'
import { scaleOf } from '@/board/scale'
import type { Row } from '@/board/useBoard'
import { chanceInWords } from '@/shared/words'

const row = (phase: number, low: number, high: number, more = {}) =>
  ({
    test: 'crank_speed',
    phase,
    usable: true,
    withdrawn: false,
    strip: { unit: 'rpm', low: [low], middle: [low], high: [high] },
    ...more,
  }) as unknown as Row

describe('the scale of averaged cycles', () => {
  it('is shared by the same test before and after', () => {
    const [before, after] = [row(0, 700, 820), row(2, 760, 800)]
    expect(scaleOf(before, [before, after])).toEqual([700, 820])
    expect(scaleOf(after, [before, after])).toEqual([700, 820])
  })
  it('is each row’s own where it stands alone, is struck out or has another unit', () => {
    const before = row(0, 700, 820)
    const other = row(1, 0, 9, { strip: { unit: 'A', low: [0], middle: [1], high: [9] } })
    expect(scaleOf(before, [before])).toBeUndefined()
    expect(scaleOf(before, [before, row(1, 0, 900, { withdrawn: true }), other])).toBeUndefined()
    expect(scaleOf(before, [before, row(0, 600, 900)])).toBeUndefined()
  })
})

const LIFE = {
  stage: 'repaired',
  stage_words: 'repaired, not proven',
  phase: 1,
  phases: [
    {
      number: 0,
      kind: 'as_arrived',
      words: 'As arrived',
      note: '',
      by: 'Tamsin',
      at: '2026-01-01T10:00:00Z',
    },
    {
      number: 1,
      kind: 'after_repair',
      words: 'After repair',
      note: '',
      by: 'Tamsin',
      at: '2026-01-01T11:00:00Z',
    },
  ],
  changed_over: [],
  repairs: [
    { phase: 1, status: 'not_cured', words: 'The repair changed nothing.', missing: [], compared: [] },
  ],
  misplaced: [],
  left_to_do: [],
  outcomes: [],
  follow_ups: [{ id: 4, words: 'Oil change', due: '2026-01-02', overdue: true, done: false }],
} as unknown as Schemas['Life']

describe('the life of a case', () => {
  it('says how far it is, which state is now, and what the repair cured', () => {
    const wrapper = mount(LifeBar, { props: { life: LIFE, history: [], may: true } })
    expect(wrapper.get('[data-test="stage"]').text()).toBe('repaired, not proven')
    expect(wrapper.get('[data-test="phase-1"]').attributes('aria-current')).toBe('step')
    expect(wrapper.get('[data-test="phase-0"]').attributes('aria-current')).toBeUndefined()
    expect(wrapper.get('[data-test="proof"]').classes()).toContain('alarm')
    expect(wrapper.find('[data-test="put-back"]').exists()).toBe(false)
  })
  it('lets what is due be done, and nothing by who may not', async () => {
    const wrapper = mount(LifeBar, { props: { life: LIFE, history: [], may: true } })
    await wrapper.get('[data-test="follow-up"] button').trigger('click')
    expect(wrapper.emitted('followedUp')).toEqual([[4]])
    const reader = mount(LifeBar, { props: { life: LIFE, history: [], may: false } })
    expect(reader.findAll('button')).toHaveLength(0)
  })
  it('asks to put back what sits elsewhere', async () => {
    const misplaced = [{ part: 'coil', places: [{ cylinder: 1, of: 3 }] }]
    const wrapper = mount(LifeBar, { props: { life: { ...LIFE, misplaced }, history: [], may: true } })
    expect(wrapper.get('[data-test="misplaced"]').text()).toContain('the coil of 3 is in 1')
    await wrapper.get('[data-test="put-back"]').trigger('click')
    expect(wrapper.emitted('putBack')).toHaveLength(1)
  })
})

describe('choosing cylinders', () => {
  it.each([
    [1, [3, 1]],
    [3, []],
  ])('adds %i or takes it away, in the order they were touched', async (touched, then) => {
    const wrapper = mount(CylinderPicker, {
      props: { order: [1, 3, 4, 2], label: 'Cylinders', modelValue: [3] },
    })
    await wrapper.get(`[data-test="pick-${touched}"]`).trigger('click')
    expect(wrapper.emitted('update:modelValue')).toEqual([[then]])
  })
})

describe('a chance', () => {
  it.each([
    [100, 'over 99 %'],
    [99, '99 %'],
    [0, '0 %'],
  ])('of %i is never said to be certain', (percent, said) => expect(chanceInWords(percent)).toBe(said))
  it('says what the last visit found, and where to read it', () => {
    const history = [
      { case: 7, on: '2026-03-02', odometer_km: 88000, words: 'coil dead inside; proven' },
      { case: 3, on: '2025-01-09', odometer_km: null, words: 'nothing found' },
    ]
    const wrapper = mount(LifeBar, {
      props: { life: LIFE, history, may: true },
      global: { stubs: { RouterLink } },
    })
    const before = wrapper.get('[data-test="seen-before"]')
    expect(before.text()).toContain('coil dead inside; proven')
    expect(before.text()).not.toContain('nothing found')
    expect(before.get('a').attributes('data-to')).toBe('"/cases/7"')
  })
})
