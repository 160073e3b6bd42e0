import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import InjectorCalculator from '@/evidence/InjectorCalculator.vue'
import { serve } from '../server'

type Asked = Record<string, number>
function calculator(answer: (given: Asked) => Response | Promise<Response>) {
  const asked: [string, Asked][] = []
  serve(async (request) => {
    const body = (await request.json()) as { given: { key: string; value: number }[] }
    const given = Object.fromEntries(body.given.map((row) => [row.key, row.value]))
    asked.push([new URL(request.url).pathname.split('/')[3]!, given])
    return answer(given)
  })
  const wrapper = mount(InjectorCalculator)
  const give = async (label: string, value: string) => {
    const box = wrapper.find(`input[aria-label="${label}"], [aria-label="${label}"] input`)
    await box.setValue(value)
    await box.trigger('change')
    await flushPromises()
  }
  return { asked, wrapper, give }
}
const told = (key: string, value: number, low: number, high: number) =>
  Response.json({
    found: [
      { key, value },
      { key: `low_${key}`, value: low },
      { key: `high_${key}`, value: high },
    ],
  })
const amps = (value: number) => told('amps', value, 0.9 * value, 1.1 * value)

describe('what current should flow', () => {
  it('is asked once everything is known, at 20 degrees and 13.8 V unless said otherwise', async () => {
    const { asked, wrapper, give } = calculator(() => amps(0.92))
    await flushPromises()
    expect(asked).toEqual([])
    await give('ohm at 20 °C', '14.5')
    expect(asked).toEqual([['expected_current', { ohms: 14.5, volts: 13.8, celsius: 20 }]])
    expect(wrapper.find('[data-test="calculated"]').text()).toContain('0.92 A')
    expect(wrapper.find('[data-test="calculated"]').text()).toContain('sound: 0.83 to 1.01')
  })
  it('large figures are told with one digit', async () => {
    const { wrapper, give } = calculator(() => amps(18.44))
    await give('ohm at 20 °C', '0.7')
    expect(wrapper.find('[data-test="calculated"]').text()).toContain('18.4 A')
  })
  it('the other way round an ampere speaks of a resistance', async () => {
    const { asked, wrapper, give } = calculator(() => told('ohms', 14.2, 13, 15))
    await wrapper.find('input[value="ohms"]').setValue()
    await give('ampere seen', '0.93')
    expect(asked).toEqual([['ohms_from_amps', { amps: 0.93, volts: 13.8, celsius: 20 }]])
    expect(wrapper.find('[data-test="calculated"]').text()).toContain('14.2 Ω at 20 °C')
  })
  it('what cannot be is said in place of a figure', async () => {
    const { wrapper, give } = calculator(() =>
      Response.json({ code: 'ohms', sentence: '9000 ohm is no injector.' }, { status: 400 }),
    )
    await give('ohm at 20 °C', '9000')
    expect(wrapper.find('[data-test="calculated"]').exists()).toBe(false)
    expect(wrapper.text()).toContain('9000 ohm is no injector.')
  })
  it('an answer that comes after the next question is not shown', async () => {
    let release!: (r: Response) => void
    const slow = new Promise<Response>((go) => (release = go))
    const { wrapper, give } = calculator((given) => (given['ohms'] === 1 ? slow : amps(0.5)))
    await give('ohm at 20 °C', '1')
    await give('ohm at 20 °C', '27')
    release(amps(13))
    await flushPromises()
    expect(wrapper.find('[data-test="calculated"]').text()).toContain('0.50 A')
  })
})
