import type { Schemas } from '@/api/client'
import type { Conditions } from '@/shared/conditions'
import type { Symptom } from '@/shared/symptoms'

export type Signs = NonNullable<Schemas['IntakeRequest']['signs']>

/** What was said of a vehicle, as it is typed. */
export interface Job {
  complaint: string
  symptom: Symptom
  complaint_when: Conditions
  signs: Signs
  work_done: Schemas['WorkDoneRequest'][]
  believed: string
  asked_for: string
  odometer_km: number | null
  ceiling_minutes: number | null
}

export const emptyJob = (): Job => ({
  complaint: '',
  symptom: 'runs_badly',
  complaint_when: {},
  signs: [],
  work_done: [],
  believed: '',
  asked_for: '',
  odometer_km: null,
  ceiling_minutes: null,
})

/** A job as it is kept, ready to be mended without touching what is kept. */
export const jobOf = (said: Schemas['SaidTold']): Job =>
  structuredClone({
    ...said,
    complaint_when: said.complaint_when as Conditions,
    work_done: said.work_done as Schemas['WorkDoneRequest'][],
  })

/** Rows in which something stands. */
export const written = (rows: readonly Schemas['WorkDoneRequest'][]) =>
  rows.filter((row) => row.part || row.words?.trim())

/** Codes as they are typed or pasted, one after another. */
export const codesTyped = (text: string) =>
  text
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((code) => ({ code: code.toUpperCase(), status: 'stored' }))

/** Only what differs from what is kept: the journal then says what was mended. */
export function mended(job: Job, said: Schemas['SaidTold']): Partial<Job> {
  const now = { ...job, work_done: written(job.work_done) }
  return Object.fromEntries(
    Object.entries(now).filter(
      ([key, value]) => JSON.stringify(value) !== JSON.stringify(said[key as keyof Job]),
    ),
  )
}
