import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import CycleControls from '@/traces/CycleControls.vue'

const controls = (look: string, more: object = {}) =>
  mount(CycleControls, {
    props: {
      look, roles: ['coil_current'], cylinders: [1, 3, 4, 2], running: 0, share: 1,
      role: 'coil_current', picked: null, slow: false, oddFirst: false, scaling: 'same', ...more,
    },
    global: { stubs: { ElSelect: true } },
  }) // prettier-ignore

describe('the row above pictures of cycles', () => {
  it('picks a cylinder out, and lets it go by the same button', async () => {
    const free = controls('overlay')
    await free.find('[data-test="pick-4"]').trigger('click')
    expect(free.emitted('update:picked')).toEqual([[4]])
    const held = controls('overlay', { picked: 4 })
    expect(held.find('[data-test="pick-4"]').attributes('aria-pressed')).toBe('true')
    await held.find('[data-test="pick-4"]').trigger('click')
    expect(held.emitted('update:picked')).toEqual([[null]])
  })
  it('stands in firing order', () => {
    expect(controls('rows').findAll('[data-test^="pick-"]').map((b) => b.text())).toEqual(['1', '3', '4', '2']) // prettier-ignore
  })
  it('runs cycles only where one cycle is looked at', async () => {
    expect(controls('overlay').find('[data-test="play"]').exists()).toBe(false)
    const one = controls('cycle')
    await one.find('[data-test="play-back"]').trigger('click')
    expect(one.emitted('play')).toEqual([[-1]])
    expect(controls('cycle', { running: 1 }).find('[data-test="play"]').text()).toContain('Hold')
    expect(controls('cycle', { running: -1 }).find('[data-test="play"]').text()).not.toContain('Hold')
  })
  it('goes no closer than a thirty-second of a window', () => {
    expect(
      controls('rows', { share: 1 / 32 })
        .find('[data-test="closer"]')
        .attributes('disabled'),
    ).toBeDefined()
    expect(controls('rows', { share: 0.5 }).find('[data-test="closer"]').attributes('disabled')).toBeUndefined() // prettier-ignore
  })
  it('offers one scale for all rows where there are rows', () => {
    expect(controls('rows').find('[data-test="lock"]').text()).toContain('Same scale')
    expect(controls('cycle').find('[data-test="lock"]').exists()).toBe(false)
  })
})
