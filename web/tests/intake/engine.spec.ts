import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import EngineForm from '@/intake/EngineForm.vue'
import { useEngineSuggestions } from '@/intake/useEngineSuggestions'
import type { TypedEngine } from '@/intake/useEngineCheck'
import { settled, using } from '../mounting'
import { serve } from '../server'

const TYPED: TypedEngine = {
  label: '', cylinders: 4, firing_order: '1 3 4 2', fuel: 'petrol', ignition: 'coil_on_plug', injection: 'port',
} // prettier-ignore
const KNOWN = {
  label: 'Ormside Salter 4.4 V8', own: false,
  engine: {
    cylinders: 8, firing_order: [1, 8, 4, 3, 6, 5, 7, 2], banks: { left: [1, 2, 3, 4] },
    injector_feeds: [[1, 2], [3, 4]], injector_path: ['fuse', 'plug'], fuel: 'petrol', ignition: 'coil_on_plug', injection: 'port',
  },
} // prettier-ignore
beforeEach(() => vi.useFakeTimers())
afterEach(() => vi.useRealTimers())
const typing = async (engine: { value: TypedEngine }, letters: string) => {
  engine.value.label = letters
  await nextTick()
  await vi.advanceTimersByTimeAsync(200)
  await settled()
}

describe('known engines by a few letters', () => {
  function asked(answers: object[] = [KNOWN]) {
    const letters: (string | null)[] = []
    serve((request) => {
      letters.push(new URL(request.url).searchParams.get('letters'))
      return Response.json(answers)
    })
    const engine = ref({ ...TYPED })
    return { letters, engine, ...using(() => useEngineSuggestions(engine)).made }
  }
  it('are asked for once the hand rests, four at most', async () => {
    const { letters, engine, suggestions } = asked(Array.from({ length: 9 }, () => KNOWN))
    engine.value.label = 'o'
    await nextTick()
    await typing(engine, 'orm')
    expect(letters).toEqual(['orm'])
    expect(suggestions.value).toHaveLength(4)
  })
  it('fill the form as it is typed, and forget what the engine before had', async () => {
    const { engine, suggestions, take } = asked()
    engine.value.firing_intervals_deg = [90, 270]
    await typing(engine, 'orm')
    take(suggestions.value[0]!)
    expect(engine.value).toMatchObject({
      cylinders: 8,
      firing_order: '1 8 4 3 6 5 7 2',
      injector_feeds: '1 2 / 3 4',
      injector_path: 'fuse > plug',
      label: '',
    })
    expect(engine.value.firing_intervals_deg).toBeUndefined()
    expect(suggestions.value).toEqual([])
  })
  it('of this shop keep their name, and are not asked for again', async () => {
    const { letters, engine, suggestions, take } = asked([{ ...KNOWN, own: true }])
    await typing(engine, 'orm')
    take(suggestions.value[0]!)
    await typing(engine, 'Ormside Salter 4.4 V8')
    expect(engine.value.label).toBe('Ormside Salter 4.4 V8')
    expect(letters).toEqual(['orm'])
  })
  it('are none where the server is silent', async () => {
    const { engine, suggestions } = asked()
    serve(() => Response.json({ detail: 'down' }, { status: 503 }))
    await typing(engine, 'orm')
    expect(suggestions.value).toEqual([])
  })
})

describe('the engine of a new case', () => {
  const form = (check: object | null) =>
    mount(EngineForm, {
      props: { modelValue: { ...TYPED }, check: check as never },
      global: { stubs: { CrankCircle: true, ElSelect: true, ElInputNumber: true } },
    })
  it('names companions, or that there are none', () => {
    expect(form({ places: [], pairs: [[1, 4], [2, 3]], problem: '', valid: true }).text()).toContain('1 and 4, 2 and 3') // prettier-ignore
    expect(form({ places: [], pairs: [], problem: '', valid: true }).text()).toContain('No companions')
  })
  it('says what cannot be, in place of companions', () => {
    const odd = form({
      places: [],
      pairs: [],
      problem: 'Cylinder 5 is no cylinder of this engine.',
      valid: false,
    })
    expect(odd.find('[data-test="engine-problem"]').text()).toContain('Cylinder 5')
    expect(odd.text()).not.toContain('companions')
  })
})
