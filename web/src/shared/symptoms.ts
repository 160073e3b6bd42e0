import type { Schemas } from '@/api/client'

export type Symptom = Schemas['Case']['symptom']

/** What an engine does at all, as it is asked and shown. */
export const SYMPTOMS: Record<Symptom, string> = {
  runs: 'Runs well',
  runs_badly: 'Runs badly',
  no_start: 'Cranks, does not start',
  no_crank: 'Does not crank',
}
