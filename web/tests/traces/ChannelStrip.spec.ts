import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { words } from '@/shared/words'
import ChannelStrip from '@/traces/ChannelStrip.vue'

const strip = (more: object = {}) =>
  mount(ChannelStrip, {
    props: {
      channel: {
        position: 3,
        role: 'coil_current',
        name: 'clamp',
        unit: 'A',
        cylinder: 2,
        sync: true,
        lead: 'clamp 1 mV/A',
      } as never,
      drawn: { times: Float64Array.from([0, 1, 2]), values: Float32Array.from([10, 20, Number.NaN]) },
      view: { stretch: ref({ from: 0, to: 2 }) },
      events: [],
      fires: false,
      marks: [],
      cursors: [null, null],
      done: '',
      over: false,
      zeroed: false,
      height: 100,
      at: null,
      ...more,
    },
    global: { stubs: { TracePlot: true } },
  })

describe('one channel over time', () => {
  it('says what it is, in which unit, whose, and that it marks cycles', () => {
    words.roles = { coil_current: 'Coil current' }
    expect(strip().text()).toContain('Coil current')
    expect(strip().text()).toContain('clamp, A, cylinder 2, sync, clamp 1 mV/A')
  })
  it('reads the value nearest to the pointer', () => {
    expect(strip({ at: 0.9 }).text()).toContain('0.9000 s: 20.00 A')
  })
  it('says missing where no sample was written', () => {
    expect(strip({ at: 1.9 }).text()).toContain('missing')
  })
  it('asks to be turned over and zeroed, and says what can be undone', async () => {
    const plain = strip()
    await plain.find('[data-test="flip-3"]').trigger('click')
    await plain.find('[data-test="zero-3"]').trigger('click')
    expect([plain.emitted('flip'), plain.emitted('zero')]).toEqual([[[]], [[]]])
    const changed = strip({ over: true, zeroed: true, done: 'shown upside down' })
    expect(changed.find('[data-test="flip-3"]').text()).toBe('Turn back')
    expect(changed.find('[data-test="flip-3"]').attributes('aria-pressed')).toBe('true')
    expect(changed.find('[data-test="zero-3"]').text()).toBe('Zero as measured')
    expect(changed.find('[data-test="done-3"]').text()).toBe('shown upside down')
  })
})
