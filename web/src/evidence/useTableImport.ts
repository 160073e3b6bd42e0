import { computed, ref, shallowRef } from 'vue'
import type { Schemas } from '@/api/client'
import { toProblem, type Problem } from '@/api/problems'
import type { Conditions } from '@/shared/conditions'
import { cylindersOpen, offersFor } from './columnUse'
import type { ColumnUse } from './columnUse'
import { cancelled, doing, kept, looked, stage, wayOf } from './staging'
import type { FileImport, KeepPlan, Source } from './staging'

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
const WHOLE: [number, number] = [0, 100]

/** From a chosen file to a kept capture: look, confirm what each column is, keep. */
export function useTableImport(caseId: () => number) {
  const file = shallowRef<string | null>(null)
  /** The file as the server holds it. */
  const held = shallowRef<FileImport | null>(null)
  const columns = ref<ColumnUse[]>([])
  const guess = shallowRef<Schemas['TableGuess'] | null>(null)
  const rate = ref<number | null>(null)
  const fuelDisabled = ref<boolean | null>(null)
  const name = ref('')
  const test = ref('')
  const engineState = ref('')
  const conditions = ref<Conditions>({})
  const segment = ref<number | null>(null)
  /** What is kept, in per cent of the whole. */
  const part = ref<[number, number]>([...WHOLE])
  const progress = ref<number | null>(null)
  const problem = ref<Problem | null>(null)

  async function look(chosen: Source) {
    await letGo()
    await shownAs(async () => {
      await stage(caseId(), chosen, follow)
      await read()
    })
  }

  /** Go on with a file that was sent before, here or in another tab. */
  async function resume(sent: FileImport) {
    await letGo()
    held.value = sent
    await shownAs(read)
  }

  async function read() {
    if (!held.value) return
    const found = await looked(held.value.id)
    file.value = held.value.file_name
    guess.value = found
    columns.value = found.columns.map((c) => ({
      column: c.name,
      role: c.role,
      unit: c.unit ?? '',
      cylinder: c.cylinder,
      sync: c.sync,
      lead: c.lead,
      guess: c,
    }))
    take(found.test)
    if (found.engine_state) engineState.value = found.engine_state
    if (found.segments.length) segment.value = found.segments.indexOf(Math.max(...found.segments))
  }

  /** Work with its progress shown, and what goes wrong said. */
  async function shownAs(work: () => Promise<void>) {
    progress.value = 0
    problem.value = null
    try {
      await work()
    } catch (fault) {
      problem.value = toProblem(fault)
    } finally {
      progress.value = null
    }
  }

  function follow(now: FileImport) {
    held.value = now
    progress.value = wayOf(now)
  }

  async function keep(): Promise<boolean> {
    const sent = held.value
    if (!file.value || !sent) return false
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
        lead: offersFor(c).some((o) => o.lead.kind === c.lead?.kind) ? c.lead : null,
      })),
      sample_rate_hz: rate.value,
      segment: segment.value,
      part: part.value[0] > 0 || part.value[1] < 100 ? part.value.map((p) => p / 100) : null,
      fuel_disabled: engineState.value === 'cranking' ? fuelDisabled.value : null,
      ...conditions.value,
      load: engineState.value === 'cranking' ? 'none' : (conditions.value.load ?? ''),
    } as KeepPlan // what cannot be is refused in words
    await shownAs(async () => {
      const ended = await kept(sent.id, plan, follow)
      if (ended.state === 'refused' && ended.problem) throw ended.problem
    })
    return held.value?.state === 'kept'
  }

  /** Take the file back, whatever is being done with it. */
  async function cancel() {
    if (held.value) await cancelled(held.value.id).catch(() => null)
    reset()
  }

  /** A file that was only looked at is not left lying about when another is chosen. */
  async function letGo() {
    const open = held.value && !['kept', 'waiting', 'working'].includes(held.value.state)
    if (open) await cancel()
    reset()
  }

  function reset() {
    file.value = null
    held.value = null
    guess.value = null
    columns.value = []
    problem.value = null
    rate.value = null
    name.value = ''
    conditions.value = {}
    segment.value = null
    part.value = [...WHOLE]
    take('')
  }

  /** A test, with the state of the engine it is usually taken in. */
  function take(chosen: string) {
    test.value = chosen
    engineState.value = !chosen ? '' : CRANKING.includes(chosen) ? 'cranking' : 'running'
  }

  /** What is being done with the file. */
  const words = computed(() => {
    if (!held.value) return ''
    const still = ['arrived', 'refused'].includes(held.value.state)
    return still ? (file.value ? 'is handed over' : 'is looked at') : doing(held.value)
  })
  const hasTime = computed(() => columns.value.some((c) => c.role === 'time') || !!guess.value?.rate_hz)
  /** What is still to be said before it can be kept, in the order of the page. */
  const missing = computed(() => {
    const asked: string[] = []
    if (!test.value) asked.push('what it was taken for')
    else if (!columns.value.some((c) => (CHANNELS[test.value] ?? []).includes(c.role)))
      asked.push('which column is the channel of that test')
    if (!columns.value.every((c) => c.role === 'other' || c.unit)) asked.push('a unit for each column')
    asked.push(...cylindersOpen(columns.value))
    if (!engineState.value) asked.push('what the engine did')
    if (!hasTime.value && rate.value === null) asked.push('the sample rate')
    if (engineState.value === 'cranking' && fuelDisabled.value === null) asked.push('the fuel')
    return asked
  })
  const ready = computed(() => file.value !== null && !missing.value.length)
  return {
    file, columns, guess, rate, fuelDisabled, name, test, engineState, conditions, segment, part, take, progress, problem, hasTime,
    missing, ready, held, words, look, resume, keep, cancel, reset,
  } // prettier-ignore
}
