import { createStore, del, set, values, type UseStore } from 'idb-keyval'
import { computed, shallowRef } from 'vue'
import { send } from '@/api/sending'
import { toProblem } from '@/api/problems'
import { whenBack } from '@/api/connection'
import { reloadAll } from '@/shared/useLoaded'

/** A reading or a photo that the server does not have yet. */
export interface Held {
  key: string
  kind: 'reading' | 'photo'
  /** What it is and of which vehicle, in words. */
  words: string
  url: string
  body?: unknown
  file?: File
  fields?: Record<string, string>
  notedAt: string
  notedBy: string
  /** State of the vehicle then; a photo belongs to none. */
  phase?: number
  /** Why the server will not have it. */
  refused?: string
}

const held = shallowRef<Held[]>([])
let store: UseStore | null = null
/** Where nothing can be stored, it is held by the open page alone. */
async function lasting<T>(work: (shelf: UseStore) => Promise<T>, otherwise: T): Promise<T> {
  try {
    return await work((store ??= createStore('fair-witness-outbox', 'held')))
  } catch {
    return otherwise
  }
}

/** What is not saved yet, oldest first. */
export const outbox = computed(() => [...held.value].sort((a, b) => a.notedAt.localeCompare(b.notedAt)))
/** Of it, what waits for the connection only. */
export const waiting = computed(() => outbox.value.filter((one) => !one.refused))

/** What an earlier page left behind. */
export async function openOutbox(): Promise<void> {
  held.value = await lasting((shelf) => values<Held>(shelf), [])
}

/** Hold something back until the server answers. */
export async function hold(one: Held): Promise<void> {
  held.value = [...held.value.filter((other) => other.key !== one.key), one]
  await lasting((shelf) => set(one.key, one, shelf), undefined)
}

/** Throw something away that is not saved. */
export async function discard(key: string): Promise<void> {
  held.value = held.value.filter((one) => one.key !== key)
  await lasting((shelf) => del(key, shelf), undefined)
}

let sending: Promise<void> | null = null
/** Send what waits, oldest first, as far as the connection carries; each is kept once, however often it is sent. */
export function flush(): Promise<void> {
  sending ??= sendAll().finally(() => (sending = null))
  return sending
}
async function sendAll() {
  for (const one of waiting.value) {
    try {
      await send(one.url, { once: one.key, ...one })
      await discard(one.key)
      void reloadAll()
    } catch (fault) {
      const { code, sentence } = toProblem(fault)
      if (code === 'unreachable' || code === 'server_fault' || code === 'not_logged_in') return
      await hold({ ...one, refused: sentence })
    }
  }
}
whenBack(() => void flush())
