import { describe, expect, it } from 'vitest'
import { bodyOf, grouped, useEngineRecord } from '@/shop/useEngineRecord'
import { serve } from '../server'
import { settled, using } from '../mounting'

const TYPED = {
  label: 'Hollin Drover 2.0',
  cylinders: 4,
  firing_order: '1 3 4 2',
  fuel: 'petrol',
  ignition: 'coil_on_plug',
  injection: 'port',
  injector_path: 'fuse > plug',
}
const DRAFT = { variant_of: '', years: '2019', code: '', notes: '', wiring: [], usual: [] }
const TOLD = {
  id: 5,
  label: TYPED.label,
  variant_of: '',
  years: '2019',
  code: 'HD20',
  notes: 'n',
  engine: {},
  whole: { ...TYPED, firing_order: [1, 3, 4, 2], injector_path: ['fuse', 'plug'] },
  wiring: [{ part: 'injector', places: [{ name: 'fuse' }, { name: 'plug', pin: '3' }] }],
  usual: [{ words: 'idle', value: '750' }],
  differences: [],
  variants: [],
  minutes: [],
  changed_by: 'Idris',
  changed_at: '2026-12-01T00:00:00Z',
  changes: 0,
  may: true,
}

describe('what is sent of an engine', () => {
  it('leaves out places nobody named and circuits without any', () => {
    const wiring = [
      { part: 'injector' as const, places: [{ name: 'fuse' }, { name: ' ' }] },
      { part: 'coil' as const, places: [{ name: '' }] },
    ]
    const body = bodyOf(TYPED, { ...DRAFT, wiring, usual: [{ words: 'idle', value: ' ' }] })
    expect(body.engine['wiring']).toEqual([{ part: 'injector', places: [{ name: 'fuse' }] }])
    expect(body.engine['injector_path']).toBeUndefined()
    expect(body.usual).toEqual([])
    expect(body.label).toBe(TYPED.label)
  })
  it('keeps the named path where no pins are written down', () => {
    expect(bodyOf(TYPED, DRAFT).engine['injector_path']).toBe('fuse > plug')
  })
})

describe('a record', () => {
  it('comes with lists as they are typed, is changed and kept', async () => {
    const sent: unknown[] = []
    serve(async (request) => {
      if (request.method === 'POST') sent.push(await request.clone().json())
      return Response.json(request.url.includes('/5/') ? TOLD : [])
    })
    const kept: number[] = []
    const { made } = using(() =>
      useEngineRecord(
        () => 5,
        (id) => kept.push(id),
      ),
    )
    await settled()
    expect(made.typed.value.firing_order).toBe('1 3 4 2')
    expect(made.draft.value?.wiring[0]!.places[1]!.pin).toBe('3')
    made.draft.value!.notes = 'idles at 800'
    await made.keep()
    expect(sent).toHaveLength(1)
    expect(sent[0]).toMatchObject({ notes: 'idles at 800', code: 'HD20' })
    expect(kept).toEqual([5])
  })
})

describe('groups of cylinders', () => {
  it.each([
    [undefined, ''],
    [
      [
        [1, 4],
        [2, 3],
      ],
      '1 4 / 2 3',
    ],
    ['1 4 /', '1 4 /'],
  ])('stand as they are typed', (groups, words) => expect(grouped(groups)).toBe(words))
})
