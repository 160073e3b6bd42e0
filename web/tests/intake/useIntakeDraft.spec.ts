import { beforeEach, describe, expect, it } from 'vitest'
import { ref } from 'vue'
import { useIntakeDraft } from '@/intake/useIntakeDraft'
import { settled, using } from '../mounting'

const fields = () => ({ vehicle: ref(''), job: ref({ complaint: '' }) })
function intake(who = 'tamsin') {
  const own = fields()
  const { made, leave } = using(() => useIntakeDraft(who, own))
  return { own, draft: made, leave }
}

describe('a draft at intake', () => {
  beforeEach(() => sessionStorage.clear())
  it('survives leaving the page', async () => {
    const first = intake()
    first.own.vehicle.value = 'Minibus 3'
    first.own.job.value.complaint = 'shakes'
    await settled()
    first.leave()
    const again = intake()
    expect(again.draft.restored.value).toBe(true)
    expect(again.own.vehicle.value).toBe('Minibus 3')
    expect(again.own.job.value).toEqual({ complaint: 'shakes' })
  })
  it('is put before nobody else', async () => {
    intake().own.vehicle.value = 'Minibus 3'
    await settled()
    expect(intake('idris').own.vehicle.value).toBe('')
  })
  it('is gone once the case is started, and when the form is emptied', async () => {
    const first = intake()
    first.own.vehicle.value = 'Minibus 3'
    await settled()
    first.draft.done()
    expect(intake().draft.restored.value).toBe(false)
    const second = intake()
    second.own.vehicle.value = 'Minibus 4'
    await settled()
    second.draft.startEmpty()
    await settled()
    expect(second.own.vehicle.value).toBe('')
    expect(sessionStorage.length).toBe(0)
  })
  it('what cannot be read is no draft', () => {
    sessionStorage.setItem('fair-witness-intake tamsin', '{broken')
    expect(intake().draft.restored.value).toBe(false)
  })
})
