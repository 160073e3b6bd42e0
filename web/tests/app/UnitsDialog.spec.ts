import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { useSession } from '@/app/session'
import UnitsDialog from '@/app/UnitsDialog.vue'
import { queries } from '@/shared/useLoaded'
import { words } from '@/shared/words'
import { serve } from '../server'

const SESSION = {
  logged_in: true, username: 'tess', name: 'Tess', role: 'technician', demo_accounts: [],
  units: { pressure: 'bar' },
} // prettier-ignore

beforeEach(() => {
  setActivePinia(createPinia())
  useSession().state = SESSION as never
  words.units = [{ key: 'pressure', words: 'Pressures', options: { bar: 'bar', psi: 'psi' } }]
})
const shown = () =>
  mount(UnitsDialog, { props: { modelValue: true }, global: { stubs: { teleport: true, transition: true } } })

describe('the units somebody reads in', () => {
  it('are chosen at the server, and everything shown is asked for again', async () => {
    const sent: unknown[] = []
    serve(async (request) => {
      sent.push(await request.json())
      return Response.json({ ...SESSION, units: { pressure: 'psi' } })
    })
    const again = vi.spyOn(queries, 'invalidateQueries')
    const wrapper = shown()
    await flushPromises()
    await wrapper.find('[data-test="unit-psi"] input').setValue()
    await flushPromises()
    expect(sent).toEqual([{ pressure: 'psi' }])
    expect(useSession().state?.units.pressure).toBe('psi')
    expect(again).toHaveBeenCalledOnce()
  })
  it('stay as they were where the server refuses, and it is said', async () => {
    serve(() => Response.json({ code: 'x', sentence: 'Not offered.' }, { status: 400 }))
    const wrapper = shown()
    await flushPromises()
    await wrapper.find('[data-test="unit-psi"] input').setValue()
    await flushPromises()
    expect(useSession().state?.units.pressure).toBe('bar')
    expect(wrapper.text()).toContain('Not offered.')
  })
})
