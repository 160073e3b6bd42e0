import { expect, it } from 'vitest'
import { aboutFields } from '@/pictures/usePictures'

it('what a picture belongs to is sent under its kind, and nothing where it is of the case', () => {
  expect(aboutFields('part:3')).toEqual({ part: '3' })
  expect(aboutFields('')).toEqual({})
  expect(aboutFields('part')).toEqual({})
})
