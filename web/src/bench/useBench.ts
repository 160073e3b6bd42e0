import { onBeforeUnmount, ref, shallowRef } from 'vue'
import { client, unwrap, type Problem, type Schemas } from '@/api/client'

export type Bench = Schemas['Bench']

/** Lows and highs of every channel of one recording, growing. */
export interface Live {
  recording: number
  step: number
  columns: number
  /** Per channel: lows and highs in turn. */
  values: Float32Array[]
}

const HEAD_BYTES = 16
const ROOM = 4096
const AGAIN_MS = 1200

/** The bench of this person: state and samples come over one socket, verbs go over HTTP. */
export function useBench() {
  const state = ref<Bench | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const busy = ref('')
  const online = ref(false)
  const live = shallowRef<Live | null>(null)
  const frames = ref(0)
  let socket: WebSocket | null = null
  let again = 0
  let left = false

  function open() {
    const secure = location.protocol === 'https:' ? 'wss' : 'ws'
    socket = new WebSocket(`${secure}://${location.host}/ws/bench/`)
    socket.binaryType = 'arraybuffer'
    socket.onopen = () => (online.value = true)
    socket.onmessage = (event: MessageEvent<string | ArrayBuffer>) => {
      if (typeof event.data === 'string') take(JSON.parse(event.data) as Bench)
      else append(event.data)
    }
    socket.onclose = () => {
      online.value = false
      if (!left) again = window.setTimeout(open, AGAIN_MS)
    }
  }
  function take(now: Bench) {
    if (state.value && now.version < state.value.version && now.vehicle) return
    state.value = now
    if (now.stage === 'set_up' || !now.vehicle) live.value = null // what is drawn belongs to an earlier capture
  }
  function append(data: ArrayBuffer) {
    const head = new Uint32Array(data, 0, 4)
    const [recording, first, step, channels] = [head[0]!, head[1]!, head[2]!, head[3]!]
    const part = new Float32Array(data, HEAD_BYTES)
    const width = part.length / channels
    const at = (first / step) * 2
    const before = live.value && live.value.recording === recording && first > 0 ? live.value : null
    const values = Array.from({ length: channels }, (_, c) => {
      let kept = before?.values[c] ?? new Float32Array(ROOM)
      if (kept.length < at + width) {
        const wider = new Float32Array(Math.max(kept.length * 2, at + width))
        wider.set(kept)
        kept = wider
      }
      kept.set(part.subarray(c * width, (c + 1) * width), at)
      return kept
    })
    live.value = { recording, step, columns: (at + width) / 2, values }
    frames.value += 1
  }
  /** One verb; its answer is the new state. */
  async function verb(name: string, call: () => Promise<Bench | undefined>) {
    if (busy.value === name) return false // a second click on the same
    busy.value = name
    problem.value = null
    try {
      const now = await call()
      if (now) take(now)
      return true
    } catch (fault) {
      problem.value = fault as Problem
      state.value = await unwrap(client.GET('/api/bench/')).catch(() => state.value)
      return false
    } finally {
      if (busy.value === name) busy.value = ''
    }
  }
  open()
  onBeforeUnmount(() => {
    left = true
    window.clearTimeout(again)
    socket?.close()
  })
  return { state, problem, busy, online, live, frames, verb }
}
