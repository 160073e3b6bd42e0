import { reactive } from 'vue'

/** Whether the server answers, as the last request found it. */
export const connection = reactive<{ lostAt: Date | null }>({ lostAt: null })

const ASKED_EVERY_MS = 4000
let asking = 0
const back = new Set<() => void>()

/** Do something each time the server answers again. */
export function whenBack(action: () => void): void {
  back.add(action)
}

/** A request got an answer, whatever it said. */
export function answered(): void {
  if (!connection.lostAt) return
  connection.lostAt = null
  window.clearInterval(asking)
  for (const action of back) action()
}

/** A request got no answer: ask until one comes. */
export function unanswered(): void {
  if (connection.lostAt) return
  connection.lostAt = new Date()
  asking = window.setInterval(() => void ask(), ASKED_EVERY_MS)
}

/** Ask now. */
export async function ask(): Promise<void> {
  await fetch('/health/alive/', { cache: 'no-store' }).then(answered, () => undefined)
}
window.addEventListener('online', () => void ask())
