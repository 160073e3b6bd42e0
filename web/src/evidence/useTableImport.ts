import { computed, ref, shallowRef } from 'vue'
import { upload, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import type { Conditions } from '@/shared/conditions'

/** What one column of the file is taken for. */
export interface ColumnUse {
  column: string
  role: string
  unit: string
  cylinder: number | null
  sync: boolean
  preview: readonly number[]
}

/** A file chosen here, or one that waits in the inbox folder of the server. */
export interface Source {
  name: string
  file: File | null
}

/** Tests and a channel each needs. */
export const CHANNELS: Record<string, readonly string[]> = {
  relative_compression: ['starter_current', 'battery_voltage'],
  crank_speed: ['crank_sensor'],
  secondary_voltage: ['secondary_voltage'],
  coil_current: ['coil_current'],
  coil_control: ['coil_control'],
  injector_current: ['injector_current'],
  injector_voltage: ['injector_voltage'],
  cylinder_pressure: ['cylinder_pressure'],
  exhaust_pulse: ['exhaust_pressure'],
  intake_pulse: ['intake_pressure'],
  crankcase_pulse: ['crankcase_pressure'],
}
const CRANKING = ['relative_compression', 'cylinder_pressure', 'intake_pulse', 'crankcase_pulse']

/** From a chosen file to a kept capture: look, confirm the columns, keep. */
export function useTableImport(caseId: () => number) {
  const file = shallowRef<Source | null>(null)
  const columns = ref<ColumnUse[]>([])
  const needsRate = ref(false)
  const written = ref('')
  const rate = ref<number | null>(null)
  const fuelDisabled = ref<boolean | null>(null)
  const name = ref('')
  const test = ref('')
  const engineState = ref('')
  const conditions = ref<Conditions>({})
  const progress = ref<number | null>(null)
  const problem = ref<Problem | null>(null)

  async function look(chosen: Source) {
    reset()
    progress.value = 0
    try {
      const guess = await upload<Schemas['TableGuess']>(
        `/api/cases/${caseId()}/look/`,
        chosen.file,
        inbox(chosen),
        (share) => {
          progress.value = share
        },
      )
      file.value = chosen
      columns.value = guess.columns.map((c) => ({
        column: c.name,
        role: c.role,
        unit: c.unit ?? '',
        cylinder: c.cylinder,
        sync: c.sync,
        preview: c.preview,
      }))
      needsRate.value = guess.needs_rate
      take(guess.test)
      written.value = guess.written
    } catch (fault) {
      problem.value = toProblem(fault)
    } finally {
      progress.value = null
    }
  }

  async function keep(): Promise<boolean> {
    if (!file.value) return false
    progress.value = 0
    problem.value = null
    const plan = {
      name: name.value || test.value.replaceAll('_', ' '),
      test: test.value,
      engine_state: engineState.value,
      columns: columns.value.map((c) => ({
        column: c.column,
        role: c.role,
        unit: c.role === 'other' ? '' : c.unit,
        cylinder: c.cylinder,
        sync: c.sync,
      })),
      sample_rate_hz: rate.value,
      fuel_disabled: engineState.value === 'cranking' ? fuelDisabled.value : null,
      ...conditions.value,
      load: engineState.value === 'cranking' ? 'none' : (conditions.value.load ?? ''),
    }
    try {
      const fields = { plan: JSON.stringify(plan), ...inbox(file.value) }
      await upload(
        `/api/cases/${caseId()}/captures/`,
        file.value.file,
        fields,
        (share) => (progress.value = share),
      )
      return true
    } catch (fault) {
      problem.value = toProblem(fault)
      return false
    } finally {
      progress.value = null
    }
  }

  const inbox = (from: Source): Record<string, string> => (from.file ? {} : { inbox: from.name })

  function reset() {
    file.value = null
    columns.value = []
    problem.value = null
    rate.value = null
    name.value = ''
    conditions.value = {}
    take('')
  }

  /** A test, with the state of the engine it is usually taken in. */
  function take(chosen: string) {
    test.value = chosen
    engineState.value = !chosen ? '' : CRANKING.includes(chosen) ? 'cranking' : 'running'
  }

  const hasTime = computed(() => columns.value.some((c) => c.role === 'time'))
  const ready = computed(
    () =>
      file.value !== null &&
      columns.value.some((c) => (CHANNELS[test.value] ?? []).includes(c.role)) &&
      engineState.value !== '' &&
      columns.value.every((c) => c.role === 'other' || c.unit) &&
      (hasTime.value || rate.value !== null) &&
      (engineState.value !== 'cranking' || fuelDisabled.value !== null),
  )
  return {
    file, columns, needsRate, written, rate, fuelDisabled, name, test, engineState, conditions, take, progress, problem, hasTime, ready,
    look, keep, reset,
  } // prettier-ignore
}
