import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { ref } from 'vue'
import BenchStrip from '@/bench/BenchStrip.vue'
import SetUpCard from '@/bench/SetUpCard.vue'
import { useBenchVerbs } from '@/bench/useBenchVerbs'
import type { Bench } from '@/bench/useBench'
import { serve } from '../server'

const BENCH = {
  big: 'Ready', stage: 'set_up', scope: 'connected', scan_connected: false, fuel_disabled: false,
  battery_v: 12.61, battery_low: false, starter_heat: 0, elapsed_s: 0, seconds: 7, cranks: true, test_title: 'Relative compression',
  losses: [], watched_s: null, checks: [{ id: 'battery', words: 'Battery at 12.4 V or more' }, { id: 'fuel_off', words: 'Fuel disabled' }],
  leads: [{ channel: 1, place: 'Clamp on the cable', reach: 1000, unit: 'A', probe: 1, sync: false }], cautions: ['Crank 5 to 10 s.'],
} as unknown as Bench // prettier-ignore
const bench = (more: object = {}) => ({ ...BENCH, ...more }) as Bench

describe('the strip of the bench', () => {
  const text = (more: object = {}) => mount(BenchStrip, { props: { state: bench(more) } }).text()
  it('says what happens now, and runs a clock only while it records', () => {
    expect(text()).toContain('Ready')
    expect(text()).not.toContain('of 7 s')
    expect(text({ stage: 'recording', elapsed_s: 3.24 })).toContain('3.2 of 7 s')
    expect(text({ stage: 'recording', elapsed_s: 9 })).toContain('7.0 of 7 s')
    expect(text({ stage: 'watching', watched_s: 61.4 })).toContain('61 s, nothing lost')
  })
  it('tells a low battery and a hot starter', () => {
    expect(text()).toContain('12.61 V')
    expect(text({ battery_low: true })).toContain('charge it')
    expect(text({ starter_heat: 0.02 })).toContain('cool')
    expect(text({ starter_heat: 0.4 })).toContain('warm, 40 %')
    expect(text({ starter_heat: 0.8 })).toContain('hot, 80 %: let it cool')
  })
  it('tells a lost scope from one that was never connected', () => {
    expect(text({ scope: 'lost' })).toContain('lost')
    expect(text({ scope: 'none' })).toContain('not connected')
  })
})

describe('the card of a test', () => {
  const card = (more: object, ticked: string[] = []) =>
    mount(SetUpCard, { props: { state: bench(more), busy: '', ticked } })
  it('opens the way to cranking only when everything on it is ticked', () => {
    const waiting = card({}, ['fuel_off'])
    expect(waiting.find('[data-test="go"]').attributes('disabled')).toBeDefined()
    expect(waiting.find('[data-test="not-ready"]').text()).toBe('Not ticked: Battery at 12.4 V or more.')
    const ready = card({ fuel_disabled: true }, ['battery', 'fuel_off'])
    expect(ready.find('[data-test="go"]').attributes('disabled')).toBeUndefined()
    expect(ready.find('[data-test="go"]').text()).toBe('Crank 7 s')
  })
  it('watches a running test for long, never a starter', async () => {
    expect(card({}).find('[data-test="watch"]').exists()).toBe(false)
    const running = card({ cranks: false, fuel_disabled: true }, ['battery', 'fuel_off'])
    await running.find('[data-test="watch"]').trigger('click')
    expect(running.emitted('watch')![0]).toEqual([['battery', 'fuel_off']])
    expect(card({ cranks: false, stage: 'watching' }).find('[data-test="stop"]').exists()).toBe(true)
  })
  it('tells what was lost, when and after how long; and that nothing was, without saying more', () => {
    const lost = card({
      cranks: false,
      stage: 'captured',
      watched_s: 200,
      losses: [{ at_s: 3.417, lead: 'feed' }],
    })
    expect(lost.find('[data-test="caught"]').text()).toContain('Lost at 3.42 s on feed, after 3.3 min')
    const nothing = card({ cranks: false, stage: 'captured', watched_s: 40 })
    expect(nothing.find('[data-test="not-caught"]').text()).toContain('Watched 40 s, nothing lost')
    expect(nothing.find('[data-test="caught"]').exists()).toBe(false)
  })
  it('is not ready without its scope, whatever is ticked', () => {
    const off = card({ scope: 'none', fuel_disabled: true }, ['battery', 'fuel_off'])
    expect(off.find('[data-test="not-ready"]').text()).toBe('The scope is not connected.')
  })
  it('ticks by itself what the bench knows, and takes it back', async () => {
    const own = card({ fuel_disabled: true })
    expect(own.emitted('update:ticked')![0]).toEqual([['fuel_off']])
    const back = card({ fuel_disabled: false }, ['battery', 'fuel_off'])
    expect(back.emitted('update:ticked')![0]).toEqual([['battery']])
    expect(back.find('[data-test="tick-fuel_off"] input').attributes('disabled')).toBeDefined()
  })
  it('offers to stop while it records and to keep what came of it', async () => {
    const running = card({ stage: 'recording' })
    await running.find('[data-test="stop"]').trigger('click')
    expect(running.emitted('stop')).toHaveLength(1)
    expect(running.find('[data-test="go"]').exists()).toBe(false)
    const broken = card({ stage: 'broken_off', fuel_disabled: true }, ['battery', 'fuel_off'])
    await broken.find('[data-test="keep"]').trigger('click')
    expect(broken.emitted('keep')).toHaveLength(1)
    expect(broken.find('[data-test="go"]').text()).toBe('Crank 7 s again')
  })
  it('says where to clip on, with what range, and what can hurt', () => {
    const words = card({}).text()
    expect(words).toContain('Clamp on the cable')
    expect(words).toContain('range 1000 A')
    expect(words).toContain('Crank 5 to 10 s.')
  })
})

describe('what can be done at the bench', () => {
  function verbs(state: object) {
    const asked: [string, string, unknown][] = []
    serve(async (request) => {
      const text = await request.text()
      asked.push([request.method, new URL(request.url).pathname, text ? JSON.parse(text) : null])
      return Response.json(bench())
    })
    const verb = async (_: string, call: () => Promise<unknown>) => (await call(), true)
    return { asked, ...useBenchVerbs({ state: ref(bench(state)), verb } as never) }
  }
  it('switches by one verb each', async () => {
    const { asked, scope, fuel, balance, clear } = verbs({})
    await scope(true)
    await fuel(false)
    await balance(true)
    await clear()
    expect(asked.map(([method, path, body]) => `${method} ${path} ${JSON.stringify(body)}`)).toEqual([
      'POST /api/bench/scope/ {"on":true}',
      'POST /api/bench/fuel/ {"on":false}',
      'POST /api/bench/balance/ {"on":true}',
      'DELETE /api/bench/ null',
    ])
  })
  it('opens a card with the suspects, and ticks the fuel that is off already', async () => {
    const off = verbs({ fuel_disabled: true })
    await off.setUp('leak_down', [3, 4])
    expect(off.asked[0]![2]).toEqual({ test: 'leak_down', suspects: [3, 4] })
    expect(off.ticked.value).toEqual(['fuel_off'])
    const on = verbs({})
    await on.setUp('crank_speed', [])
    expect(on.ticked.value).toEqual([])
  })
  it('another vehicle has nothing ticked', async () => {
    const { ticked, choose } = verbs({})
    ticked.value = ['battery']
    await choose({ vehicle: 'drover-2.0' } as never)
    expect(ticked.value).toEqual([])
  })
  it('keeps nothing where nothing waits, and reads the bench again after', async () => {
    const idle = verbs({ stage: 'set_up' })
    await idle.keep()
    expect(idle.asked).toEqual([])
    const waiting = verbs({ stage: 'broken_off' })
    await waiting.keep()
    expect(waiting.asked.map(([method, path]) => `${method} ${path}`)).toEqual([
      'POST /api/bench/keep/',
      'GET /api/bench/',
    ])
  })
})
