import { describe, expect, it } from 'vitest'
import type { Form } from '@/evidence/forms'
import { byStage, matching } from '@/evidence/shelf'

const form = (test: string, stage: string, title = test) =>
  ({ test, stage, stage_words: stage, title }) as Form
const FORMS = [
  form('authorisation', ''),
  form('swap', 'proof', 'Parts changed over'),
  form('voltage', 'circuits'),
  form('first_look', 'look', 'First look'),
  form('leak_down', 'mechanical', 'Leak-down'),
]

describe('forms on the shelf', () => {
  it('stand in the order of the work, and what is no test stands elsewhere', () => {
    expect(byStage(FORMS).map((stage) => stage.words)).toEqual(['look', 'mechanical', 'circuits', 'proof'])
  })
  it('are found by a few letters of any case', () => {
    expect(matching(FORMS, ' LEAK').map((found) => found.test)).toEqual(['leak_down'])
    expect(matching(FORMS, '')).toHaveLength(FORMS.length)
    expect(byStage(matching(FORMS, 'nothing'))).toEqual([])
  })
})
