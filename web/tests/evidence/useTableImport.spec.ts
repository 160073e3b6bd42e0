import { beforeEach, describe, expect, it } from 'vitest'
import { serve } from '../server'
import { useTableImport } from '@/evidence/useTableImport'

/** Stands for the server: the files it was sent, the plans it was asked for, and what it answers. */
const HELD = {
  id: 7, file_name: 'crank.csv', by: 'Tess', own: true, may_cancel: true, size: 3, received: 0,
  state: 'arriving', stage: '', share: 0, before: 0, capture: null, problem: null,
} // prettier-ignore
const asked: { method: string; path: string; body: unknown }[] = []
let guess: unknown
let end: object
let refusal: { on: string; body: object } | null
const json = (body: unknown, status = 200) => Response.json(body, { status })

const plans = () =>
  asked.filter((a) => a.path.endsWith('/keep/')).map((a) => a.body as Record<string, unknown>)
const columnsSent = () => plans().at(-1)!['columns'] as Record<string, unknown>[]

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
  asked.length = 0
  guess = GUESS
  end = { ...HELD, state: 'kept', received: 3, capture: 5 }
  refusal = null
  serve(async (request) => {
    const path = new URL(request.url).pathname
    const body = request.method === 'PUT' ? await request.text() : await request.json().catch(() => null)
    asked.push({ method: request.method, path, body })
    if (refusal && path.endsWith(refusal.on)) return json(refusal.body, 400)
    if (path.endsWith('/look/')) return json(guess)
    if (path.endsWith('/keep/')) return json({ ...HELD, state: 'waiting', received: 3 }, 202)
    if (path.endsWith('/file/')) return json({ ...HELD, state: 'arrived', received: 3 })
    if (request.method === 'DELETE') return json({ ...HELD, state: 'cancelled' })
    if (request.method === 'POST') {
      const inbox = (body as { inbox: boolean }).inbox
      return json(inbox ? { ...HELD, state: 'arrived', received: 3 } : HELD, 201)
    }
    return json(end)
  })
})

describe('from a file to a capture', () => {
  it('is looked at first, and taken for what the server thinks it is', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    expect(asked.map((a) => [a.method, a.path])).toEqual([
      ['POST', '/api/cases/12/imports/'],
      ['PUT', '/api/imports/7/file/'],
      ['POST', '/api/imports/7/look/'],
    ])
    expect(asked[1]!.body).toBe('t;a')
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
    expect(await table.keep()).toBe(true)
    expect(plans()[0]).toMatchObject({
      name: 'relative compression',
      engine_state: 'cranking',
      load: 'none',
      fuel_disabled: true,
    })
    await table.look(FILE)
    table.take('coil_current')
    await table.keep()
    expect(plans()[1]).toMatchObject({
      engine_state: 'running',
      fuel_disabled: null,
    })
  })
  it('a column that is nothing known has no unit', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    table.columns.value[1]!.role = 'other'
    await table.keep()
    expect(columnsSent().map((c) => c['unit'])).toEqual(['s', '', 'A'])
  })
  it('the longest recording of several is taken, and a part of it if one was chosen', async () => {
    guess = { ...GUESS, segments: [20, 900, 400] }
    const table = useTableImport(() => 12)
    await table.look(FILE)
    expect(table.segment.value).toBe(1)
    table.part.value = [10, 60]
    await table.keep()
    expect(plans()[0]).toMatchObject({ segment: 1, part: [0.1, 0.6] })
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
    guess = { ...GUESS, columns }
    const table = useTableImport(() => 12)
    await table.look(FILE)
    const sent = async () => {
      await table.keep()
      return columnsSent()[1]!['lead']
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
    guess = { ...GUESS, columns, needs_rate: true, test: 'coil_current', engine_state: 'running' }
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
    expect(await table.keep()).toBe(true)
    expect(asked[0]!.body).toMatchObject({ name: 'waiting.csv', inbox: true })
    expect(asked.some((a) => a.method === 'PUT')).toBe(false)
  })
  it('what cannot be read says why, and nothing of the file before is left', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    refusal = { on: '/look/', body: { code: 'table', sentence: 'Line 3 has two columns.' } }
    await table.look(FILE)
    expect(table.problem.value?.sentence).toContain('Line 3')
    expect(table.columns.value).toEqual([])
    expect(table.file.value).toBeNull()
    expect(asked.filter((a) => a.method === 'DELETE')).toHaveLength(1)
  })
  it('a plan that is refused stays, so that it can be mended', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    refusal = { on: '/keep/', body: { code: 'plan', sentence: 'No column is the sync.' } }
    expect(await table.keep()).toBe(false)
    expect(table.columns.value).toHaveLength(3)
    expect(table.problem.value?.sentence).toContain('sync')
  })
  it('what was found wrong while it was read is said, and it can be kept once more', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    end = { ...HELD, state: 'refused', problem: { code: 'table', sentence: 'Line 9: not a number.' } }
    expect(await table.keep()).toBe(false)
    expect(table.problem.value?.sentence).toContain('Line 9')
    end = { ...HELD, state: 'kept', capture: 5 }
    expect(await table.keep()).toBe(true)
    expect(asked.filter((a) => a.path.endsWith('/file/'))).toHaveLength(1)
  })
  it('one taken back elsewhere is not kept, and that is no fault', async () => {
    const table = useTableImport(() => 12)
    await table.look(FILE)
    end = { ...HELD, state: 'cancelled' }
    expect(await table.keep()).toBe(false)
    expect(table.problem.value).toBeNull()
  })
  it('one that was sent before is gone on with', async () => {
    const table = useTableImport(() => 12)
    await table.resume({ ...HELD, state: 'arrived' } as never)
    expect(table.file.value).toBe('crank.csv')
    expect(asked.map((a) => a.path)).toEqual(['/api/imports/7/look/'])
  })
  it('nothing chosen is nothing kept', async () => {
    expect(await useTableImport(() => 12).keep()).toBe(false)
    expect(asked).toEqual([])
  })
})
