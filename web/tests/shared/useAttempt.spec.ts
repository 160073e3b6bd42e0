import { describe, expect, it } from 'vitest'
import { useAttempt } from '@/shared/useAttempt'

describe('an attempt', () => {
  it('is busy while it goes on', async () => {
    const { busy, attempt } = useAttempt()
    let seen = false
    expect(await attempt(async () => void (seen = busy.value))).toBe(true)
    expect(seen).toBe(true)
    expect(busy.value).toBe(false)
  })
  it('keeps what went wrong until the next one', async () => {
    const { busy, problem, attempt } = useAttempt()
    const wrong = { code: 'x', what: 'No.', where: '', mend: '', sentence: 'No.' }
    expect(await attempt(() => Promise.reject(wrong))).toBe(false)
    expect(problem.value?.sentence).toBe('No.')
    expect(busy.value).toBe(false)
    await attempt(() => Promise.resolve())
    expect(problem.value).toBeNull()
  })
})
