import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useTableImport } from '@/evidence/useTableImport'

/** Stands for the browser's upload: what was sent, and what comes back. */
class Upload {
  static sent: { url: string; fields: Record<string, unknown> }[] = []
  static answer: { status: number; body: unknown } = { status: 200, body: null }
  upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {}
  url = ''
  status = 0
  response: unknown = null
  onload?: () => void
  onerror?: () => void
  open(_: string, url: string) {
    this.url = url
  }
  setRequestHeader() {}
  send(form: FormData) {
    Upload.sent.push({ url: this.url, fields: Object.fromEntries(form) })
    this.upload.onprogress?.({ loaded: 1, total: 2 })
    this.status = Upload.answer.status
    this.response = Upload.answer.body
    queueMicrotask(() => (this.status ? this.onload?.() : this.onerror?.()))
  }
}
const column = (name: string, role: string, more: object = {}) => ({
  name, role, unit: role === 'time' ? 's' : 'A', cylinder: null, sync: false, preview: [],
  chances: [], leads: [], lead: null, remembered: '', height: 1, events_hz: null, ...more,
}) // prettier-ignore
const GUESS = {
  columns: [column('t', 'time'), column('clamp', 'starter_current'), column('cmd', 'coil_control', { cylinder: 1, sync: true })],
  needs_rate: false, rate_hz: null, segments: [], attempts: [], engine_state: 'cranking', test: 'relative_compression', written: 'semicolons, decimal comma',
} // prettier-ignore
const FILE = { name: 'crank.csv', file: new File(['t;a'], 'crank.csv') }
beforeEach(() => {
  vi.stubGlobal('XMLHttpRequest', Upload)
  Upload.sent = []
  Upload.answer = { status: 200, body: GUESS }
})
afterEach(() => vi.unstubAllGlobals())

describe('from a file to a capture', () => {
  it('is looked at first, and taken for what the server thinks it is', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    expect(Upload.sent[0]!.url).toBe('/api/cases/12/look/')
    expect(table.columns.value.map((c) => [c.column, c.role, c.cylinder, c.sync])).toEqual([
      ['t', 'time', null, false],
      ['clamp', 'starter_current', null, false],
      ['cmd', 'coil_control', 1, true],
    ])
    expect(table.guess.value?.written).toBe('semicolons, decimal comma')
    expect(table.test.value).toBe('relative_compression')
    expect(table.progress.value).toBeNull()
  })
  it('the state of the engine follows the test', async () => {
    const table = useTableImport(() => 12)
    table.take('relative_compression')
    expect(table.engineState.value).toBe('cranking')
    table.take('coil_current')
    expect(table.engineState.value).toBe('running')
    table.take('')
    expect(table.engineState.value).toBe('')
  })
  it('is kept with its plan; fuel is asked for cranking only', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    table.fuelDisabled.value = true
    Upload.answer = { status: 201, body: { id: 5 } }
    expect(await table.keep()).toBe(true)
    const plan = JSON.parse(String(Upload.sent[1]!.fields['plan'])) as Record<string, unknown>
    expect(plan).toMatchObject({
      name: 'relative compression',
      engine_state: 'cranking',
      load: 'none',
      fuel_disabled: true,
    })
    table.take('coil_current')
    await table.keep()
    expect(JSON.parse(String(Upload.sent[2]!.fields['plan']))).toMatchObject({
      engine_state: 'running',
      fuel_disabled: null,
    })
  })
  it('a column that is nothing known has no unit', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    table.columns.value[1]!.role = 'other'
    await table.keep()
    const plan = JSON.parse(String(Upload.sent[1]!.fields['plan'])) as { columns: { unit: string }[] }
    expect(plan.columns.map((c) => c.unit)).toEqual(['s', '', 'A'])
  })
  it('the longest recording of several is taken, and a part of it if one was chosen', async () => {
    Upload.answer = { status: 200, body: { ...GUESS, segments: [20, 900, 400] } }
    const table = useTableImport(() => 12)
    await table.look(FILE)
    expect(table.segment.value).toBe(1)
    table.part.value = [10, 60]
    await table.keep()
    const plan = JSON.parse(String(Upload.sent[1]!.fields['plan'])) as Record<string, unknown>
    expect(plan).toMatchObject({ segment: 1, part: [0.1, 0.6] })
  })
  it('a lead goes along only where the column still is what it stands before', async () => {
    const clamp = { kind: 'clamp', unit: 'A', per_volt: 1000, zero_v: 0, reference: null }
    const columns = [
      column('t', 'time'),
      column('c', 'starter_current', {
        unit: 'mV',
        lead: clamp,
        leads: [{ role: 'starter_current', words: '', fits: true, lead: clamp }],
      }),
    ]
    Upload.answer = { status: 200, body: { ...GUESS, columns } }
    const table = useTableImport(() => 12)
    await table.look(FILE)
    const sent = async () => {
      await table.keep()
      const plan = JSON.parse(String(Upload.sent.at(-1)!.fields['plan'])) as { columns: { lead: unknown }[] }
      return plan.columns[1]!.lead
    }
    expect(await sent()).toEqual(clamp)
    table.columns.value[1]!.unit = 'A'
    expect(await sent()).toBeNull()
  })
  it('what is still to be said is named, one by one', async () => {
    const columns = [
      column('t', 'other'),
      column('c', 'coil_current', { unit: '' }),
      column('s', 'coil_control', { sync: true }),
    ]
    Upload.answer = {
      status: 200,
      body: { ...GUESS, columns, needs_rate: true, test: 'coil_current', engine_state: 'running' },
    }
    const table = useTableImport(() => 12)
    await table.look(FILE)
    expect(table.missing.value).toEqual(['a unit for each column', 'the cylinder of s', 'the sample rate'])
    table.take('')
    expect(table.missing.value).toContain('what it was taken for')
    table.take('injector_current')
    expect(table.missing.value[0]).toBe('which column is the channel of that test')
  })
  it('a file of the inbox is named, not sent', async () => {
    const table = useTableImport(() => 12)
    await table.look({ name: 'waiting.csv', file: null })
    await table.keep()
    expect(Upload.sent.map((s) => [s.fields['inbox'], 'file' in s.fields])).toEqual([
      ['waiting.csv', false],
      ['waiting.csv', false],
    ])
  })
  it('what cannot be read says why, and nothing of the file before is left', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    Upload.answer = { status: 400, body: { code: 'table', sentence: 'Line 3 has two columns.' } }
    await table.look(FILE)
    expect(table.problem.value?.sentence).toContain('Line 3')
    expect(table.columns.value).toEqual([])
    expect(table.file.value).toBeNull()
  })
  it('what is refused stays, so that it can be mended', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    Upload.answer = { status: 400, body: { code: 'plan', sentence: 'No column is the sync.' } }
    expect(await table.keep()).toBe(false)
    expect(table.columns.value).toHaveLength(3)
    expect(table.problem.value?.sentence).toContain('sync')
  })
  it('nothing chosen is nothing kept', async () => {
    expect(await useTableImport(() => 12).keep()).toBe(false)
    expect(Upload.sent).toEqual([])
  })
})
