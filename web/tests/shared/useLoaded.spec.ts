import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref, type Ref } from 'vue'
import { askSoon, queries, reloadAll, useLoaded } from '@/shared/useLoaded'

afterEach(() => queries.clear())

/** Answers that come when a test says so. */
function desk() {
  const asked: {
    key: number
    signal: AbortSignal
    give: (v: string) => void
    refuse: (e: unknown) => void
  }[] = []
  const load = (key: number, signal: AbortSignal) =>
    new Promise<string>((give, refuse) => asked.push({ key, signal, give, refuse }))
  return { asked, load }
}
function using(
  key: Ref<number | null>,
  load: (key: number, signal: AbortSignal) => Promise<string>,
  keep = true,
) {
  let loaded!: ReturnType<typeof useLoaded<number, string>>
  const wrapper = mount(
    defineComponent({
      setup() {
        loaded = useLoaded('thing', key, load, { keep })
        return () => h('p', loaded.data.value ?? 'nothing')
      },
    }),
    { global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] } },
  )
  return { loaded, wrapper }
}

describe('something loaded', () => {
  it('never shows a late answer to an older question', async () => {
    const { asked, load } = desk()
    const key = ref<number | null>(1)
    const { wrapper } = using(key, load)
    await flushPromises()
    key.value = 2
    await flushPromises()
    asked[1]!.give('second')
    await flushPromises()
    asked[0]!.give('first, late')
    await flushPromises()
    expect(asked.map((a) => a.key)).toEqual([1, 2])
    expect(asked[0]!.signal.aborted).toBe(true)
    expect(wrapper.text()).toBe('second')
  })
  it('keeps the old answer until the new one has come, or clears at once', async () => {
    for (const [keep, meanwhile] of [
      [true, 'one'],
      [false, 'nothing'],
    ] as const) {
      const { asked, load } = desk()
      const key = ref<number | null>(1)
      const { wrapper } = using(key, load, keep)
      await flushPromises()
      asked[0]!.give('one')
      await flushPromises()
      key.value = 2
      await flushPromises()
      expect(wrapper.text()).toBe(meanwhile)
      wrapper.unmount()
      queries.clear()
    }
  })
  it('asks nothing without a key', async () => {
    const { asked, load } = desk()
    const key = ref<number | null>(null)
    using(key, load)
    await flushPromises()
    expect(asked).toHaveLength(0)
  })
  it('says what went wrong, and tries again when told to', async () => {
    const { asked, load } = desk()
    const { loaded, wrapper } = using(ref(1), load)
    await flushPromises()
    asked[0]!.refuse({ code: 'not_found', sentence: 'There is nothing at this address.' })
    await flushPromises()
    expect(loaded.problem.value?.sentence).toBe('There is nothing at this address.')
    loaded.reload()
    await flushPromises()
    asked[1]!.give('here')
    await flushPromises()
    expect(wrapper.text()).toBe('here')
    expect(loaded.problem.value).toBeNull()
  })
  it('takes the answer of a change as it is, and asks again for all when told to', async () => {
    const { asked, load } = desk()
    const { loaded, wrapper } = using(ref(1), load)
    await flushPromises()
    asked[0]!.give('old')
    await flushPromises()
    loaded.data.value = 'changed'
    await flushPromises()
    expect(wrapper.text()).toBe('changed')
    void reloadAll()
    await flushPromises()
    expect(asked).toHaveLength(2)
  })
})

describe('something asked for before its view is there', () => {
  it('is joined by the view instead of asked for again', async () => {
    const { asked, load } = desk()
    askSoon('thing', 3, load)
    const { wrapper } = using(ref<number | null>(3), load)
    await flushPromises()
    expect(asked.map((a) => a.key)).toEqual([3])
    asked[0]!.give('three')
    await flushPromises()
    expect(wrapper.text()).toBe('three')
  })
  it('is asked for again where it came before anybody looked: it may be old by then', async () => {
    const { asked, load } = desk()
    askSoon('thing', 4, load)
    asked[0]!.give('early')
    await vi.waitFor(() => expect(queries.getQueryCache().getAll()).toHaveLength(0))
    const { wrapper } = using(ref<number | null>(4), load)
    await flushPromises()
    expect(asked).toHaveLength(2)
    asked[1]!.give('late')
    await flushPromises()
    expect(wrapper.text()).toBe('late')
  })
})
