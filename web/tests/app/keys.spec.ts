import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { keysOn, listenForKeys, useKeys } from '@/app/keys'

const press = (key: string, target: EventTarget = document) =>
  target.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))

const using = (set: () => void, tag: string) =>
  mount(defineComponent({ setup: () => (set(), () => h(tag)) }), { attachTo: document.body })
const bound = (bindings: Record<string, () => void>) => using(() => useKeys(bindings), 'input')
const root = () => using(listenForKeys, 'main')
let listening: ReturnType<typeof root>

beforeEach(() => {
  keysOn.value = true
  listening = root()
})
afterEach(() => listening.unmount())

describe('single keys', () => {
  it('do what the latest view bound them to, and what the one before did once it is gone', () => {
    const [first, second] = [vi.fn(), vi.fn()]
    const under = bound({ n: first })
    const over = bound({ n: second })
    press('n')
    over.unmount()
    press('n')
    under.unmount()
    press('n')
    expect([first.mock.calls.length, second.mock.calls.length]).toEqual([1, 1])
  })
  it('take g and a letter as one key', () => {
    const go = vi.fn()
    const view = bound({ 'g c': go })
    press('c')
    press('g')
    press('c')
    view.unmount()
    expect(go).toHaveBeenCalledTimes(1)
  })
  it('are silent while somebody types, and where they were switched off', () => {
    const act = vi.fn()
    const view = bound({ n: act })
    press('n', view.element)
    keysOn.value = false
    press('n')
    view.unmount()
    expect(act).not.toHaveBeenCalled()
  })
})
