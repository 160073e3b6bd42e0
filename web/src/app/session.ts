import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { forgetAll } from '@/shared/useLoaded'
import { client, unwrap, type Schemas } from '@/api/client'

/** Who is logged in on this browser. */
export const useSession = defineStore('session', () => {
  const state = ref<Schemas['Session'] | null>(null)
  const loggedIn = computed(() => state.value?.logged_in ?? false)

  async function load() {
    state.value = await unwrap(client.GET('/api/session/'))
  }
  async function open(username: string, password: string) {
    state.value = await unwrap(client.POST('/api/session/', { body: { username, password } }))
  }
  async function close() {
    await unwrap<unknown>(client.DELETE('/api/session/'))
    forgetAll()
    await load()
  }
  /** Somebody came in by another door. */
  function enter(answer: Schemas['Session']) {
    state.value = answer
  }
  /** The server no longer knows who asks. */
  function expire() {
    state.value = null
  }
  async function setUnits(units: Schemas['UnitsRequest']) {
    state.value = await unwrap(client.POST('/api/session/units/', { body: units }))
  }
  return { state, loggedIn, load, open, close, enter, expire, setUnits }
})
