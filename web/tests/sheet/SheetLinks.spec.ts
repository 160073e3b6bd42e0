import { describe, expect, it } from 'vitest'
import SheetLinks from '@/sheet/SheetLinks.vue'
import type { Schemas } from '@/api/client'
import { mount } from '@vue/test-utils'

const LINK = {
  id: 4,
  words: 'M. Ferrow',
  whole: false,
  by: 'Idris Venn',
  made_at: '2026-11-01T08:00:00Z',
  expires_at: '2026-11-15T08:00:00Z',
  state: 'open' as const,
  openings: [{ at: '2026-11-02T08:00:00Z', address: '10.0.0.7', what: 'page' }],
}
const about = (more: Partial<Schemas['SheetAbout']>): Schemas['SheetAbout'] => ({
  title: 'Bus 3',
  offered: [],
  may: true,
  may_hand_over: true,
  links_on: true,
  links: [],
  ...more,
})
const shown = (more: Partial<Schemas['SheetAbout']>, whole = false) =>
  mount(SheetLinks, { props: { about: about(more), made: '', busy: false, whole } })

describe('links to a sheet', () => {
  it('are not offered where the shop has them off', () => {
    const links = shown({ links_on: false })
    expect(links.find('[data-test="links-off"]').exists()).toBe(true)
    expect(links.find('[data-test="link-make"]').exists()).toBe(false)
  })
  it('are made for somebody, with as much as is looked at', async () => {
    const links = shown({}, true)
    await links.find('input').setValue('R. Peake')
    await links.find('form').trigger('submit')
    expect(links.emitted('make')).toEqual([['R. Peake', true, 14]])
  })
  it('say who looked, and are revoked while they are open', async () => {
    const links = shown({ links: [LINK, { ...LINK, id: 3, state: 'revoked', openings: [] }] })
    expect(links.text()).toContain('10.0.0.7')
    expect(links.text()).toContain('never opened')
    const revoke = links.findAll('[data-test="link-revoke"]')
    expect(revoke).toHaveLength(1)
    await revoke[0]?.trigger('click')
    expect(links.emitted('revoke')).toEqual([[4]])
  })
})
