import { computed, ref, shallowRef } from 'vue'
import { upload, type Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'

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

/** From a chosen file to a kept capture: look, confirm the columns, keep. */
export function useTableImport(caseId: () => number) {
  const file = shallowRef<Source | null>(null)
  const columns = ref<ColumnUse[]>([])
  const needsRate = ref(false)
  const written = ref('')
  const rate = ref<number | null>(null)
  const fuelDisabled = ref<boolean | null>(null)
  const temperature = ref<'' | 'cold' | 'hot'>('')
  const name = ref('cranking')
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
      name: name.value || 'cranking',
      columns: columns.value.map((c) => ({
        column: c.column,
        role: c.role,
        unit: c.role === 'other' ? '' : c.unit,
        cylinder: c.cylinder,
        sync: c.sync,
      })),
      sample_rate_hz: rate.value,
      fuel_disabled: fuelDisabled.value,
      temperature: temperature.value,
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
  }

  const hasTime = computed(() => columns.value.some((c) => c.role === 'time'))
  const ready = computed(
    () =>
      file.value !== null &&
      columns.value.some((c) => c.role === 'starter_current' || c.role === 'battery_voltage') &&
      columns.value.every((c) => c.role === 'other' || c.unit) &&
      (hasTime.value || rate.value !== null) &&
      fuelDisabled.value !== null,
  )
  return {
    file, columns, needsRate, written, rate, fuelDisabled, temperature, name, progress, problem, hasTime, ready,
    look, keep, reset,
  } // prettier-ignore
}
