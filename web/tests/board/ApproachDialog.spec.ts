import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import ApproachDialog from '@/board/ApproachDialog.vue'
import type { Board } from '@/board/useBoard'
import { words } from '@/shared/words'

const BOARD = {
  case: { engine: { label: '' } },
  approach: { order: 'mechanical_first', tools: ['scope'] },
  tools: [
    { id: 'scope', words: 'scope' },
    { id: 'meter', words: 'meter' },
  ],
  access: [{ test: 'swap', title: 'Swap', usual: 9, own: null }],
} as unknown as Board

beforeEach(() => {
  words.settings = [
    { key: 'order', words: 'Which tests come first', options: { mechanical_first: 'Mechanical first' } },
  ]
})
const shown = (board = BOARD) =>
  mount(ApproachDialog, {
    props: { board, modelValue: true },
    attachTo: document.body,
    global: { stubs: { teleport: true, transition: true, ElSelect: true } },
  })

describe('how a case is worked', () => {
  it('asks what the server says people of the trade differ on', async () => {
    const wrapper = shown()
    await flushPromises()
    expect(wrapper.text()).toContain('Which tests come first')
  })
  it('has tabs that arrow keys walk round, one of them in the tab order', async () => {
    const wrapper = shown()
    await flushPromises()
    const tabs = () => wrapper.findAll('[role="tab"]')
    const selected = () => tabs().findIndex((t) => t.attributes('aria-selected') === 'true')
    expect(tabs().map((t) => t.attributes('tabindex'))).toEqual(['0', '-1', '-1'])
    await wrapper.find('[role="tablist"]').trigger('keydown', { key: 'ArrowRight' })
    expect(selected()).toBe(1)
    await wrapper.find('[role="tablist"]').trigger('keydown', { key: 'ArrowLeft' })
    await wrapper.find('[role="tablist"]').trigger('keydown', { key: 'ArrowLeft' })
    expect(selected()).toBe(2)
    expect(document.activeElement).toBe(tabs()[2]!.element)
    wrapper.unmount()
  })
  it('keeps minutes for engines with a name only', async () => {
    const wrapper = shown()
    await flushPromises()
    await wrapper.find('[data-test="part-minutes"]').trigger('click')
    expect(wrapper.text()).toContain('This engine has no name')
    const named = shown({ ...BOARD, case: { engine: { label: 'Hollin Drover' } } } as unknown as Board)
    await flushPromises()
    await named.find('[data-test="part-minutes"]').trigger('click')
    const box = named.find('[aria-label="Own minutes, Swap"] input, input[aria-label="Own minutes, Swap"]')
    await box.setValue('12')
    await box.trigger('change')
    expect(named.emitted('minutes')![0]).toEqual(['swap', 12])
    named.unmount()
    wrapper.unmount()
  })
})
