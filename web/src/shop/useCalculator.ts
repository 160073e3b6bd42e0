import { ref, shallowRef, watch } from 'vue'
import { toProblem, type Problem } from '@/api/problems'
import type { Schemas } from '@/api/client'

type Numbers = Schemas['Number'][]

/** What is typed into a calculator and what it finds; it asks once every line is filled, and only the last answer counts. */
export function useCalculator(
  calculator: Schemas['Calculator'],
  compute: (given: Numbers) => Promise<{ found: Numbers }>,
) {
  const typed = ref<Record<string, number | null>>(
    Object.fromEntries(calculator.given.map((line) => [line.key, line.from_case])),
  )
  const found = shallowRef<Record<string, number>>({})
  const problem = shallowRef<Problem | null>(null)
  let turn = 0

  watch(
    typed,
    async (now) => {
      const mine = ++turn
      const given = calculator.given.map((line) => ({ key: line.key, value: now[line.key] ?? null }))
      found.value = {}
      problem.value = null
      if (given.some((line) => line.value === null)) return
      try {
        const answer = await compute(given as Numbers)
        if (mine === turn)
          found.value = Object.fromEntries(answer.found.map((line) => [line.key, line.value]))
      } catch (fault) {
        if (mine === turn) problem.value = toProblem(fault)
      }
    },
    { deep: true, immediate: true },
  )
  function showExample() {
    typed.value = Object.fromEntries(calculator.given.map((line) => [line.key, line.example]))
  }
  return { typed, found, problem, showExample }
}

/** A number as finely as it can be read: three digits that count, and no tail of zeros. */
export function figure(value: number): string {
  if (value === 0) return '0'
  const digits = Math.max(0, 2 - Math.floor(Math.log10(Math.abs(value))))
  return String(Number(value.toFixed(Math.min(digits, 6))))
}
