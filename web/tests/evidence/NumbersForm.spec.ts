import { flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { discard, outbox } from '@/app/outbox'
import NumbersForm from '@/evidence/NumbersForm.vue'
import type { Form } from '@/evidence/forms'
import { serve } from '../server'

const FORM: Form = {
  test: 'swap',
  title: 'Parts changed over',
  stage: '',
  stage_words: '',
  hint: 'Change it.',
  cautions: ['Hands off.'],
  why_not: '',
  kept: 'Change-over',
  rows: [{ key: 'count', words: 'count', options: [], optional: false, alone: false, tick: false }],
  choices: [
    { key: 'part', words: 'Part', options: [{ value: 'coil', words: 'Coil', why_not: '', cautions: [] }] },
  ],
  entries: [{ key: 'to', words: 'changed with', optional: false, signed: false, text: false }],
  least: 1,
  usual: { coil: 'usual words' },
  along: [],
  places: [],
  between: false,
  calculates: [],
}

function shown() {
  return mount(NumbersForm, {
    props: { caseId: 7, vehicle: 'Van 4', phase: 2, order: [1, 3, 4, 2], form: FORM, item: '' },
  })
}
async function type(wrapper: ReturnType<typeof shown>, label: string, value: string) {
  const box = wrapper.find(`[aria-label="${label}"] input, input[aria-label="${label}"]`)
  await box.setValue(value)
  await box.trigger('change')
}

beforeEach(() => setActivePinia(createPinia()))

describe('a form on the screen', () => {
  it('shows its columns in firing order, its caution and what sound parts read', () => {
    const wrapper = shown()
    expect(wrapper.findAll('strong.number').map((n) => n.text())).toEqual(['1', '3', '4', '2'])
    expect(wrapper.text()).toContain('Hands off.')
    expect(wrapper.text()).toContain('usual words')
  })
  it('takes numbers out of a spreadsheet, and tells how it took them', async () => {
    const wrapper = shown()
    const paste = (text: string) =>
      wrapper.find('[data-test="grid-swap"]').trigger('paste', { clipboardData: { getData: () => text } })
    await paste('just words')
    expect(wrapper.find('[data-test="pasted"]').exists()).toBe(false)
    await paste('10\t20\t30\t40')
    const box = wrapper.find('[aria-label="count, cylinder 2"] input, input[aria-label="count, cylinder 2"]')
    expect((box.element as HTMLInputElement).value).toBe('20')
    expect(wrapper.find('[data-test="pasted"]').text()).toContain('1, 2, 3, 4')
  })
  it('is filled by number keys and Enter alone, or with one value for all others', async () => {
    const wrapper = mount(NumbersForm, {
      props: { caseId: 7, vehicle: 'Van 4', phase: 2, order: [1, 3, 4, 2], form: FORM, item: '' },
      attachTo: document.body,
    })
    const box = (c: number) => wrapper.find(`input[aria-label="count, cylinder ${c}"]`)
    const value = (c: number) => (box(c).element as HTMLInputElement).value
    ;(box(1).element as HTMLElement).focus()
    await box(1).setValue('7')
    await box(1).trigger('keydown', { key: 'Enter' })
    expect(document.activeElement).toBe(box(3).element)
    await wrapper.find('[data-test="same-count"]').trigger('click')
    expect([1, 3, 4, 2].map(value)).toEqual(['7', '7', '7', '7'])
    ;(box(2).element as HTMLElement).focus()
    await box(2).trigger('keydown', { key: 'Enter' })
    await flushPromises()
    expect(document.activeElement?.closest('[aria-label]')?.getAttribute('aria-label')).toBe('changed with')
    wrapper.unmount()
  })
  it('sends what was filled in and says that it was kept', async () => {
    const sent: Request[] = []
    serve((request) => {
      sent.push(request.clone())
      return new Response('{}', { status: 201, headers: { 'Content-Type': 'application/json' } })
    })
    const wrapper = shown()
    expect(wrapper.find('[data-test="keep-swap"]').attributes('disabled')).toBeDefined()
    await type(wrapper, 'count, cylinder 3', '4')
    await type(wrapper, 'changed with', '1')
    await wrapper.find('[data-test="when-hot"]').trigger('click')
    await wrapper.find('[data-test="happened-not"]').trigger('click')
    await wrapper.find('[data-test="keep-swap"]').trigger('click')
    await flushPromises()
    expect(wrapper.emitted('kept')).toHaveLength(1)
    expect(new URL(sent[0]!.url).pathname).toBe('/api/cases/7/forms/swap/')
    expect(await sent[0]!.json()).toEqual({
      values: { count: { 3: 4 } },
      entries: { to: 1 },
      choices: { part: 'coil' },
      circumstances: { temperature: 'hot', happened: false },
    })
  })
  it('keeps what was typed when the server refuses, and says why', async () => {
    const refusal = { code: 'observation', sentence: 'This case is closed.' }
    serve(async () => new Response(JSON.stringify(refusal), { status: 400 }))
    const wrapper = shown()
    await type(wrapper, 'count, cylinder 3', '4')
    await type(wrapper, 'changed with', '1')
    await wrapper.find('[data-test="keep-swap"]').trigger('click')
    await flushPromises()
    expect(wrapper.emitted('kept')).toBeUndefined()
    expect(wrapper.text()).toContain('This case is closed.')
  })
  it('holds what the server does not answer, and says that it is not saved', async () => {
    serve(() => Promise.reject(new TypeError('gone')))
    const wrapper = shown()
    await type(wrapper, 'count, cylinder 3', '4')
    await type(wrapper, 'changed with', '1')
    await wrapper.find('[data-test="keep-swap"]').trigger('click')
    await flushPromises()
    expect(wrapper.emitted('kept')).toHaveLength(1)
    const [one] = outbox.value
    expect(one).toMatchObject({ kind: 'reading', words: 'Change-over, Van 4', phase: 2 })
    expect(one!.body).toMatchObject({ values: { count: { 3: 4 } }, entries: { to: 1 } })
    await discard(one!.key)
  })
  it('does not offer what must not be done on this engine, and says why', () => {
    const options = [
      { value: 'coil', words: 'Coil', why_not: '', cautions: [] },
      { value: 'injector', words: 'Injector', why_not: 'Never on a rail.', cautions: [] },
    ]
    const form = { ...FORM, choices: [{ key: 'part', words: 'Part', options }] }
    const wrapper = mount(NumbersForm, {
      props: { caseId: 7, vehicle: 'Van 4', phase: 2, order: [1, 3], form, item: '' },
    })
    expect(wrapper.find('[data-test="why-not-injector"]').text()).toBe('Injector: Never on a rail.')
    expect(wrapper.find('[data-test="why-not-coil"]').exists()).toBe(false)
    expect(wrapper.find('input[value="injector"]').attributes('disabled')).toBeDefined()
    expect(wrapper.find('input[value="coil"]').attributes('disabled')).toBeUndefined()
  })
  it('says of a whole test why it is not done here', () => {
    const form = { ...FORM, why_not: 'A carburettor reports no counts.' }
    const wrapper = mount(NumbersForm, {
      props: { caseId: 7, vehicle: 'Van 4', phase: 2, order: [1, 3], form, item: '' },
    })
    expect(wrapper.find('[data-test="why-not"]').text()).toBe('A carburettor reports no counts.')
  })
})
