import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import TradeText from '@/shared/TradeText.vue'
import { explaining, inPieces } from '@/shared/tradeWords'
import { words } from '@/shared/words'

const sync = { forms: ['sync'], meaning: 'says whose hump it is' }
const trims = { forms: ['fuel trim', 'trims'], meaning: 'what is added' }
const trim = { forms: ['trim'], meaning: 'the short one' }
const said = (text: string, known = [sync, trims]) => inPieces(text, known).map((piece) => piece.text)

describe('a text in pieces', () => {
  it('is whole again when they are put together', () => {
    const text = 'Sync on cylinder 1 (sync), trims of bank 2; fuel trim.'
    expect(said(text).join('')).toBe(text)
  })
  it('explains the first mention of a word, in whichever form and case', () => {
    const explained = inPieces('Trims first, the Sync then, sync and fuel trim again', [sync, trims])
    expect(explained.filter((piece) => piece.meaning).map((piece) => piece.text)).toEqual(['Trims', 'Sync'])
  })
  it('prefers the longer word, and never one within another', () => {
    expect(said('a fuel trim', [trim, trims])).toEqual(['a ', 'fuel trim'])
    for (const within of ['asynchronous', 'syncs', 'in-sync', 'sync-less'])
      expect(said(within)).toEqual([within])
  })
  it('takes what stands in a word as it is written', () => {
    expect(said('the 10:1 (probe)', [{ forms: ['10:1 (probe)'], meaning: 'divides' }])).toEqual([
      'the ',
      '10:1 (probe)',
    ])
  })
  it('is one piece where nothing is known or said', () => {
    expect(said('a sync', [])).toEqual(['a sync'])
    expect(said('')).toEqual([''])
  })
})

describe('a sentence with words of the trade', () => {
  beforeEach(() => Object.assign(words, { trade_words: [sync, trims] }))
  afterEach(() => {
    explaining.value = true
    Object.assign(words, { trade_words: [] })
  })

  it('says what a word means below it, one at a time, and folds it again', async () => {
    const shown = mount({
      components: { TradeText },
      template: '<p><trade-text text="Put the sync on, read trims." /></p>',
    })
    expect(shown.text()).toBe('Put the sync on, read trims.')
    const [first, second] = shown.findAll('button')
    await first?.trigger('click')
    expect(shown.find('.trade-meaning').text()).toBe('sync: says whose hump it is')
    expect(first?.attributes('aria-expanded')).toBe('true')
    await second?.trigger('click')
    expect(shown.find('.trade-meaning').text()).toBe('trims: what is added')
    await second?.trigger('click')
    expect(shown.find('.trade-meaning').exists()).toBe(false)
  })
  it('is plain text to whoever switched it off', async () => {
    const shown = mount(TradeText, { props: { text: 'Put the sync on.' } })
    explaining.value = false
    await shown.vm.$nextTick()
    expect(shown.find('button').exists()).toBe(false)
    expect(shown.text()).toBe('Put the sync on.')
  })
  it('forgets what was asked when the sentence changes', async () => {
    const shown = mount(TradeText, { props: { text: 'Put the sync on.' } })
    await shown.find('button').trigger('click')
    await shown.setProps({ text: 'Take the sync off.' })
    expect(shown.find('.trade-meaning').exists()).toBe(false)
  })
})
