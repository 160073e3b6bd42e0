import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import BoardRow from '@/board/BoardRow.vue'

const cells = (count: number, unit: string) =>
  Array.from({ length: count }, (_, i) => ({
    cylinder: i + 1, shown: '9.4', unit, deviation: null, spread: null, state: 'normal', word: '',
    statement: `Cylinder ${i + 1}`,
  })) // prettier-ignore
const shown = (count: number, unit: string, changed: object = {}) =>
  mount(BoardRow, {
    props: {
      row: {
        id: 'capture-1', test: 'secondary_voltage', title: 'Secondary voltage', about: [], capture: 1, usable: true,
        withdrawn: false, doubted: '', assigned: true, reasons: [], strip: null, cells: cells(count, unit), ...changed,
      } as never, // prettier-ignore
      columns: Array.from({ length: count }, (_, i) => ({ start: i / count, width: 1 / count })) as never,
      picked: null,
      changes: {},
      phase: '',
      mayWithdraw: false,
    },
  })
const units = (row: ReturnType<typeof shown>) =>
  row.findAll('.figure small').filter((small) => !small.classes('visually-hidden')).length

describe('the unit of a row', () => {
  it('stands at each figure while there is room', () => {
    const row = shown(8, 'kV')
    expect(units(row)).toBe(8)
    expect(row.find('[data-test=row-unit]').exists()).toBe(false)
  })
  it('stands once beside the name from nine cylinders on, and stays to be heard', () => {
    const row = shown(9, 'kV')
    expect(units(row)).toBe(0)
    expect(row.find('[data-test=row-unit]').text()).toBe('in kV')
    expect(row.find('[data-test=cell-secondary_voltage-3]').text()).toContain('kV')
  })
  it('is left out of shares and of what names no cylinder', () => {
    expect(shown(12, '%').find('[data-test=row-unit]').exists()).toBe(false)
    expect(shown(12, 'kV', { assigned: false }).find('[data-test=row-unit]').exists()).toBe(false)
  })
})
