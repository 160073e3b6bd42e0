import type { Form } from './forms'

export interface StageOfForms {
  words: string
  forms: Form[]
}
/** Stages in the order the server names its forms in is not the order of the work. */
const ORDER = ['look', 'cranking', 'running', 'ignition', 'fuel', 'mechanical', 'circuits', 'proof']

/** Forms whose name holds the letters. */
export function matching(forms: readonly Form[], letters: string): Form[] {
  const wanted = letters.trim().toLowerCase()
  return forms.filter((form) => form.title.toLowerCase().includes(wanted))
}

/** Forms by stage, in the order of the work; what is no test (the owner's yes) has its place elsewhere. */
export function byStage(forms: readonly Form[]): StageOfForms[] {
  return ORDER.map((stage) => forms.filter((form) => form.stage === stage))
    .filter((own) => own.length)
    .map((own) => ({ words: own[0]!.stage_words, forms: own }))
}
