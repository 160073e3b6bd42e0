import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import MarkLayer from '@/pictures/MarkLayer.vue'
import { arrowHead, placeOn, ringAxes, stroke, type Mark } from '@/pictures/marks'
import { picturesOf } from '@/pictures/usePictures'

const BOX = { left: 100, top: 50, width: 400, height: 200 } as DOMRect

describe('a place on a picture', () => {
  it.each([
    [
      { clientX: 100, clientY: 50 },
      { x: 0, y: 0 },
    ],
    [
      { clientX: 300, clientY: 150 },
      { x: 0.5, y: 0.5 },
    ],
    [
      { clientX: 9000, clientY: -9 },
      { x: 1, y: 0 },
    ],
  ])('%j', (pointer, place) => expect(placeOn(BOX, pointer)).toEqual(place))
})

describe('a stroke', () => {
  it('draws from where the finger was put to where it was lifted', () => {
    expect(stroke('arrow', { x: 0.1, y: 0.2 }, { x: 0.5, y: 0.6 })).toEqual({
      kind: 'arrow',
      x: 0.1,
      y: 0.2,
      to_x: 0.5,
      to_y: 0.6,
    })
  })
  it('is nothing where the finger only touched', () => {
    expect(stroke('ring', { x: 0.1, y: 0.2 }, { x: 0.104, y: 0.2 })).toBeNull()
  })
})

describe('what is drawn', () => {
  const arrow: Mark = { kind: 'arrow', x: 0, y: 0.5, to_x: 1, to_y: 0.5 }
  it('an arrow to the right opens to the left of its tip', () => {
    const corners = arrowHead(arrow, 200, 100)
      .split(' ')
      .map((corner) => corner.split(',').map(Number))
    expect(corners[1]).toEqual([200, 50])
    for (const corner of [corners[0], corners[2]]) expect(corner?.[0]).toBeLessThan(200)
    expect(corners[0]?.[1]).toBeCloseTo(100 - (corners[2]?.[1] ?? 0), 1)
  })
  it('a ring never shrinks to a dot', () => {
    const ring: Mark = { kind: 'ring', x: 0.5, y: 0.5, to_x: 0.5, to_y: 0.52 }
    expect(ringAxes(ring, 1000, 1000)).toEqual({ rx: 12, ry: expect.closeTo(20, 3) })
  })
  it('says words and cylinders where they stand', () => {
    const marks: Mark[] = [
      { kind: 'words', x: 0.1, y: 0.1, words: 'crack' },
      { kind: 'cylinder', x: 0.2, y: 0.2, cylinder: 3 },
      arrow,
    ]
    const layer = mount(MarkLayer, { props: { marks, width: 200, height: 100 } })
    expect(layer.findAll('[data-mark]').map((mark) => mark.attributes('data-mark'))).toEqual([
      'words',
      'cylinder',
      'arrow',
    ])
    expect(layer.get('[data-mark="words"]').text()).toBe('crack')
    expect(layer.get('[data-mark="cylinder"]').text()).toBe('cyl. 3')
  })
})

describe('what a drop or a paste brings', () => {
  it('is pictures and sounds only', () => {
    const files = [
      new File(['x'], 'plug.jpg', { type: 'image/jpeg' }),
      new File(['x'], 'page.svg', { type: 'image/svg+xml' }),
      new File(['x'], 'crank.wav', { type: 'audio/wav' }),
      new File(['x'], 'run.exe', { type: 'application/octet-stream' }),
    ]
    expect(picturesOf(files).map((file) => file.name)).toEqual(['plug.jpg', 'crank.wav'])
  })
})
