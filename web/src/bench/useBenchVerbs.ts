import { ref } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import type { useBench } from './useBench'

type Bench = Pick<ReturnType<typeof useBench>, 'state' | 'verb'>

/** What a person can do at the bench; each asks the server and shows the state it answers with. */
export function useBenchVerbs({ state, verb }: Bench) {
  /** Checks of the set-up card that are ticked. */
  const ticked = ref<string[]>([])
  const nothing = { headers: {} }

  async function choose(what: Schemas['ChooseRequest']) {
    await verb('vehicle', () => unwrap(client.POST('/api/bench/vehicle/', { body: what })))
    ticked.value = []
  }
  const scope = (on: boolean) =>
    verb('scope', () => unwrap(client.POST('/api/bench/scope/', { body: { on } })))
  const scan = (on: boolean) => verb('scan', () => unwrap(client.POST('/api/bench/scan/', { body: { on } })))
  const fuel = (on: boolean) => verb('fuel', () => unwrap(client.POST('/api/bench/fuel/', { body: { on } })))
  const engine = (on: boolean) =>
    verb('engine', () => unwrap(client.POST('/api/bench/engine/', { body: { on, load: 'idle' } })))
  const balance = (on: boolean) =>
    verb('balance', () => unwrap(client.POST('/api/bench/balance/', { body: { on } })))
  const pull = () => verb('plug', () => unwrap(client.POST('/api/bench/plug/', nothing)))
  const stop = () => verb('stop', () => unwrap(client.POST('/api/bench/stop/', nothing)))
  const reveal = () => verb('reveal', () => unwrap(client.POST('/api/bench/reveal/', nothing)))
  const clear = () => verb('clear', () => unwrap(client.DELETE('/api/bench/')))
  const go = (list: string[]) =>
    verb('go', () => unwrap(client.POST('/api/bench/go/', { body: { ticked: list } })))

  const watch = (list: string[]) =>
    verb('watch', () => unwrap(client.POST('/api/bench/watch/', { body: { ticked: list } })))

  /** Opens the card of a test; fuel that is off already is ticked on it. */
  async function setUp(test: string, suspects: number[]) {
    const done = await verb('set_up', () =>
      unwrap(client.POST('/api/bench/set-up/', { body: { test: test as 'crank_speed', suspects } })),
    )
    if (done) ticked.value = state.value?.fuel_disabled ? ['fuel_off'] : []
  }
  /** Keeps what waits to be kept, and nothing else. */
  async function keep() {
    if (!['captured', 'broken_off'].includes(state.value?.stage ?? '')) return
    await verb('keep', async () => {
      await unwrap(client.POST('/api/bench/keep/', nothing))
      return await unwrap(client.GET('/api/bench/'))
    })
  }
  return {
    ticked,
    choose,
    scope,
    scan,
    fuel,
    engine,
    balance,
    pull,
    stop,
    reveal,
    clear,
    go,
    watch,
    setUp,
    keep,
  }
}
