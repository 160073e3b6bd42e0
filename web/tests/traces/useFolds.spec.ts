import { VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { afterEach, describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { queries } from '@/shared/useLoaded'
import { binsOf, useFolds } from '@/traces/useFolds'
import { useComparable, useUnderneath } from '@/traces/useUnderneath'
import type { Capture } from '@/traces/useTraces'
import { serve } from '../server'

afterEach(() => queries.clear())

const capture = (id: number, ...roles: string[]) =>
  ({ id, channels: roles.map((role, position) => ({ role, position, cylinder: position + 1 })) }) as Capture
const cycles = (from_deg = 0) => ({
  available: true, why_not: '', from_deg, starts_s: [0], ends_s: [0.2], odd_first: [0],
  windows: [{ cylinder: 1, from_deg: 0, to_deg: 180 }],
}) // prettier-ignore
const folds = (value: number) =>
  new Response(new Float32Array([value, value]).buffer, { headers: { 'X-Rows': '1' } })

/** Answers by address; those that are held come when a test says so. */
function answering(held: Record<string, Promise<unknown>> = {}) {
  const asked: string[] = []
  serve(async (request) => {
    const { pathname, search } = new URL(request.url)
    asked.push(pathname)
    await held[pathname]
    if (pathname.endsWith('/cycles/')) return Response.json(cycles())
    if (pathname.endsWith('/comparable/'))
      return Response.json([{ id: 9, words: 'Tram 9', known_good: true }])
    if (pathname.includes('/fold/'))
      return folds(Number(pathname.split('/')[3]) + (search.includes('average') ? 0.5 : 0))
    return Response.json(capture(Number(pathname.split('/')[3]), 'coil_current'))
  })
  return asked
}
function using<T>(set: () => T): T {
  let made!: T
  mount(defineComponent({ setup: () => ((made = set()), () => h('p')) }), {
    global: { plugins: [[VueQueryPlugin, { queryClient: queries }]] },
  })
  return made
}
const settled = async () => {
  for (let i = 0; i < 6; i++) await flushPromises()
}

describe('folds of a capture', () => {
  it('are read for every channel of the role, once its cycles are known', async () => {
    const asked = answering()
    const { folds: read } = using(() =>
      useFolds(capture(4, 'coil_current', 'coil_current', 'other'), 'coil_current'),
    )
    await settled()
    expect(read.value.map((f) => [f.position, f.cylinder, f.rows[0]![0], f.average[0]![0]])).toEqual([
      [0, 1, 4, 4.5],
      [1, 2, 4, 4.5],
    ])
    expect(asked[0]).toBe('/api/captures/4/cycles/')
  })
  it('of the capture before never show under the next one, however late they come', async () => {
    let release!: (value: unknown) => void
    const slow = new Promise((go) => (release = go))
    answering({ '/api/captures/1/fold/0/': slow })
    const shown = ref(capture(1, 'coil_current'))
    const { folds: read } = using(() => useFolds(shown, 'coil_current'))
    await settled()
    shown.value = capture(2, 'coil_current')
    await settled()
    expect(read.value[0]!.rows[0]![0]).toBe(2)
    release(null)
    await settled()
    expect(read.value[0]!.rows[0]![0]).toBe(2)
  })
  it('are gone at once when another role is asked for that nothing shows', async () => {
    answering()
    const role = ref('coil_current')
    const { folds: read } = using(() => useFolds(capture(1, 'coil_current'), role))
    await settled()
    role.value = 'cam_sensor'
    await settled()
    expect(read.value).toEqual([])
  })
  it('say why there are none', async () => {
    serve(() => Response.json({ code: 'capture', sentence: 'There are no cycles.' }, { status: 400 }))
    const { folds: read, problem } = using(() => useFolds(capture(1, 'coil_current'), 'coil_current'))
    await settled()
    expect(read.value).toEqual([])
    expect(problem.value?.sentence).toBe('There are no cycles.')
  })
  it('have finer columns where sparks and edges are short', () => {
    expect(binsOf('secondary_voltage')).toBeGreaterThan(binsOf('starter_current'))
  })
})

describe('another capture underneath', () => {
  it('is offered, chosen and turned to the same cylinder', async () => {
    answering()
    const offered = using(() => useComparable(capture(1, 'coil_current')))
    const under = using(() => useUnderneath(cycles() as never, 'coil_current'))
    await settled()
    expect(offered.value.map((c) => c.words)).toEqual(['Tram 9'])
    under.chosen.value = 9
    await settled()
    expect(under.other.value?.id).toBe(9)
    expect(under.below.value[0]!.average[0]![0]).toBe(9.5)
    under.chosen.value = null
    await settled()
    expect(under.other.value).toBeNull()
    expect(under.below.value).toEqual([])
  })
  it('of an older choice never shows under a newer one', async () => {
    let release!: (value: unknown) => void
    answering({ '/api/captures/7/': new Promise((go) => (release = go)) })
    const under = using(() => useUnderneath(cycles() as never, 'coil_current'))
    under.chosen.value = 7
    await settled()
    under.chosen.value = 9
    await settled()
    release(null)
    await settled()
    expect(under.other.value?.id).toBe(9)
  })
})
