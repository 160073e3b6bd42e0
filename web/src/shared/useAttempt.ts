import { ref } from 'vue'
import { toProblem, type Problem } from '@/api/problems'

/** Something a person asked for: whether it goes on, and what went wrong with the last one. */
export function useAttempt() {
  const problem = ref<Problem | null>(null)
  const busy = ref(false)

  /** Whether it was done. */
  async function attempt(work: () => Promise<void>): Promise<boolean> {
    busy.value = true
    problem.value = null
    try {
      await work()
      return true
    } catch (fault) {
      problem.value = toProblem(fault)
      return false
    } finally {
      busy.value = false
    }
  }
  return { problem, busy, attempt }
}
