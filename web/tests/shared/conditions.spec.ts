import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import ConditionsPicker from '@/shared/ConditionsPicker.vue'
import { said, toggled, type Conditions } from '@/shared/conditions'

describe('conditions', () => {
  it('are set, changed and taken back by the same button', () => {
    const hot = toggled({}, 'temperature', 'hot')
    expect(hot).toEqual({ temperature: 'hot' })
    expect(toggled(hot, 'temperature', 'cold')).toEqual({ temperature: 'cold' })
    expect(toggled(hot, 'temperature', 'hot')).toEqual({})
  })
  it('that were not said are not sent', () => {
    expect(said({ wet: undefined, happened: false, minutes_running: 0 })).toEqual({
      happened: false,
      minutes_running: 0,
    })
  })
})

function picker(asksHappened: boolean, first: Conditions = {}) {
  const wrapper = mount(ConditionsPicker, {
    props: {
      label: 'When',
      asksHappened,
      modelValue: first,
      'onUpdate:modelValue': (now: Conditions) => wrapper.setProps({ modelValue: now }),
    },
  })
  return wrapper
}

describe('the picker of conditions', () => {
  it('shows what is chosen and takes it back', async () => {
    const wrapper = picker(false)
    await wrapper.find('[data-test="when-hot"]').trigger('click')
    await wrapper.find('[data-test="when-wet"]').trigger('click')
    expect(wrapper.props('modelValue')).toEqual({ temperature: 'hot', wet: true })
    expect(wrapper.find('[data-test="when-hot"]').attributes('aria-pressed')).toBe('true')
    await wrapper.find('[data-test="when-hot"]').trigger('click')
    expect(wrapper.props('modelValue')).toEqual({ wet: true })
  })
  it('tells not there from not said', async () => {
    const wrapper = picker(true)
    expect(wrapper.find('[data-test="happened-not"]').attributes('aria-pressed')).toBe('false')
    await wrapper.find('[data-test="happened-not"]').trigger('click')
    expect(wrapper.props('modelValue')).toEqual({ happened: false })
    await wrapper.find('[data-test="happened"]').trigger('click')
    expect(wrapper.props('modelValue')).toEqual({ happened: true })
  })
  it('does not ask again what a form asks itself', () => {
    const wrapper = mount(ConditionsPicker, {
      props: { label: 'When', modelValue: {}, asked: ['temperature', 'load'] },
    })
    expect(wrapper.find('[data-test="when-hot"]').exists()).toBe(false)
    expect(wrapper.find('[data-test="when-load"]').exists()).toBe(false)
    expect(wrapper.find('[data-test="when-wet"]').exists()).toBe(true)
  })
  it('asks of a complaint only when it comes', () => {
    expect(picker(false).find('[data-test="happened"]').exists()).toBe(false)
  })
  it('takes minutes as a number, and none where it is emptied', async () => {
    const wrapper = picker(false)
    const minutes = wrapper.find('input[aria-label="Minutes after the start"]')
    await minutes.setValue('20')
    await minutes.trigger('change')
    expect(wrapper.props('modelValue')).toEqual({ minutes_running: 20 })
    await minutes.setValue('')
    await minutes.trigger('change')
    expect(wrapper.props('modelValue')).toEqual({})
  })
})
