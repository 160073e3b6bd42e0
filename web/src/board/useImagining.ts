import { computed, reactive, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

export type Imagined = Schemas['Imagined']
export interface Tick {
  test: string
  title: string
  outcome: string
  words: string
  cylinders: number[]
}

/** Outcomes nobody has seen, ticked to see the statement move. Nothing is ever kept of them. */
export function useImagining(caseId: MaybeRefOrGetter<number>) {
  const ticks = reactive(new Map<string, Tick>())
  const told = shallowRef<Imagined | null>(null)
  const problem = shallowRef<Problem | null>(null)
  let turn = 0

  async function play() {
    const mine = ++turn
    problem.value = null
    if (!ticks.size) {
      told.value = null
      return
    }
    const outcomes = [...ticks.values()].map(({ test, outcome, cylinders }) => ({ test, outcome, cylinders }))
    try {
      const found = await unwrap(
        client.POST('/api/cases/{case_id}/imagine/', {
          params: { path: { case_id: toValue(caseId) } },
          body: { outcomes },
        }),
      )
      if (mine === turn) told.value = found
    } catch (fault) {
      if (mine === turn) problem.value = toProblem(fault)
    }
  }
  function tick(wanted: Tick) {
    const same = ticks.get(wanted.test)?.words === wanted.words
    if (same) ticks.delete(wanted.test)
    else ticks.set(wanted.test, wanted)
    void play()
  }
  function clear() {
    ticks.clear()
    void play()
  }
  watch(() => toValue(caseId), clear)
  return {
    ticks: computed(() => [...ticks.values()]),
    told,
    problem,
    tick,
    clear,
    ticked: (test: string, words: string) => ticks.get(test)?.words === words,
  }
}
