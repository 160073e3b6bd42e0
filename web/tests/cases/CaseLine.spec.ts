import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import CaseLine from '@/cases/CaseLine.vue'
import { words } from '@/shared/words'
import { RouterLink } from '../mounting'

const LINE = {
  id: 4, vehicle: 'Minibus 3', title: 'Minibus 3, rough', complaint: 'rough at idle', status: 'open', cylinders: [2, 3],
  headline: 'Cylinders 2 and 3 do not seal.', verdict_status: 'suspected', cause: 'mechanical', waits_for: 'leak-down',
  fuel_state: 'enabled', minutes: 95, rivals: [],
} // prettier-ignore
const line = (more: object = {}) =>
  mount(CaseLine, { props: { line: { ...LINE, ...more } as never }, global: { stubs: { RouterLink } } })
beforeEach(() => Object.assign(words, { statuses: { suspected: 'suspected' }, causes: { mechanical: 'Mechanical' } })) // prettier-ignore

describe('one case of the yard', () => {
  it('is a link to its board and tells cylinder, cause and what it waits for', () => {
    const shown = line()
    expect(shown.find('a').attributes('data-to')).toBe('"/cases/4"')
    expect(shown.text()).toContain('2 3')
    expect(shown.text()).toContain('suspected, mechanical')
    expect(shown.text()).toContain('leak-down')
    expect(shown.text()).toContain('1 h 35 min')
  })
  it('names no cause where it names no cylinder, and says so to a screen reader', () => {
    const open = line({ cylinders: [] })
    expect(open.text()).toContain('no cylinder named')
    expect(open.text()).not.toContain('mechanical')
  })
  it('says which of two where that is open', () => {
    const pair = line({ cylinders: [], rivals: [2, 3] })
    expect(pair.find('.cylinder').text()).toBe('2 or 3')
    expect(pair.find('.cylinder').classes()).toContain('open')
  })
  it('says all where the whole engine is meant', () => {
    const whole = line({ cylinders: [1, 2, 3, 4], whole_engine: true })
      .find('.cylinder')
      .text()
    expect(whole).toContain('all')
    expect(whole).not.toContain('1')
  })
  it('that is closed waits for nothing', () => {
    const closed = line({ status: 'closed' })
    expect(closed.text()).toContain('closed')
    expect(closed.text()).not.toContain('leak-down')
  })
  it('keeps fuel that is off in sight', () => {
    expect(line({ fuel_state: 'disabled' }).text()).toContain('Fuel is disabled')
    expect(line().text()).not.toContain('Fuel is disabled')
  })
  it('goes by its title where the vehicle has no name', () => {
    expect(line({ vehicle: '', complaint: '' }).find('strong').text()).toBe('Minibus 3, rough')
  })
})
