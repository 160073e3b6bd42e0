/** Numbers copied out of a spreadsheet, on their way into a form of one number per row and cylinder. */

/** What was made of a pasted table: values by row and cylinder, and what to tell whoever pasted it. */
export interface Pasted {
  values: Record<string, Record<number, number>>
  said: string
}

interface Row {
  key: string
  words: string
}

const NOTHING = /^(|-+|ol|o\.l|nan|n\/?a)$/i
const CYLINDER = /^(?:cyl(?:inder)?|zyl(?:inder)?|cil\w*|#|no\.?|nr\.?)?\s*[.:#]?\s*(\d{1,2})$/i

/** Cells of what was copied: tabs between columns, else semicolons; no table where it is a single cell. */
export function cellsOf(text: string): string[][] | null {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').split('\n')
  const mark = text.includes('\t') ? '\t' : ';'
  const cells = lines.map((line) => line.split(mark).map((cell) => cell.trim()))
  return cells.length > 1 || (cells[0]?.length ?? 0) > 1 ? cells : null
}

/** The number in a cell, decimal comma or point, thousands and a unit behind it left out; null where there is none. */
export function numberIn(cell: string): number | null {
  if (NOTHING.test(cell)) return null
  const bare = cell.replace(/[\s\u00a0\u202f']/g, '').replace(/[^\d.,eE+-]+$/, '')
  const comma = bare.lastIndexOf(',')
  const point = bare.lastIndexOf('.')
  const decimal =
    comma > point ? bare.replaceAll('.', '').replace(/,(?=[^,]*$)/, '.').replaceAll(',', '') : bare.replaceAll(',', '') // prettier-ignore
  return /\d/.test(decimal) && Number.isFinite(Number(decimal)) ? Number(decimal) : null
}

/** A pasted table laid into the rows of a form, in whichever orientation it was copied; null where nothing fits. */
export function laidOut(text: string, rows: readonly Row[], order: readonly number[]): Pasted | null {
  const cells = cellsOf(text)
  if (!cells || !rows.length) return null
  return byHeader(cells, rows, order) ?? byHeader(turned(cells), rows, order) ?? byPlace(cells, rows, order)
}

/** A table whose first row names cylinders; a first column may name the rows of the form. */
function byHeader(cells: string[][], rows: readonly Row[], order: readonly number[]): Pasted | null {
  const [head, ...body] = cells
  if (!head || !body.length) return null
  const labelled = cylinderIn(head[0] ?? '', order) === null
  const cylinders = head.slice(labelled ? 1 : 0).map((cell) => cylinderIn(cell, order))
  if (cylinders.length < 2 || cylinders.some((c) => c === null) || new Set(cylinders).size < cylinders.length)
    return null
  const values: Pasted['values'] = {}
  body.slice(0, rows.length).forEach((line, i) => {
    const row = (labelled && rows.find((r) => named(line[0] ?? '', r))) || rows[i]!
    line.slice(labelled ? 1 : 0).forEach((cell, at) => put(values, row.key, cylinders[at], numberIn(cell)))
  })
  return filled(values) ? { values, said: '' } : null
}

/** A table without names of cylinders: one to the last, in their numbers, and it is said. */
function byPlace(cells: string[][], rows: readonly Row[], order: readonly number[]): Pasted | null {
  const across = cells.some((line) => line.length === order.length)
  const lines = across ? cells : turned(cells)
  if (!lines.every((line) => line.length === order.length) || lines.length > rows.length) return null
  const numbered = [...order].sort((a, b) => a - b)
  const values: Pasted['values'] = {}
  lines.forEach((line, i) =>
    line.forEach((cell, at) => put(values, rows[i]!.key, numbered[at], numberIn(cell))),
  )
  return filled(values)
    ? { values, said: `Taken as cylinder ${numbered.join(', ')}: copy their numbers too to be sure.` }
    : null
}

function cylinderIn(cell: string, order: readonly number[]): number | null {
  const match = CYLINDER.exec(cell)
  return match && order.includes(Number(match[1])) ? Number(match[1]) : null
}
const named = (cell: string, row: Row): boolean =>
  cell !== '' && [row.key, row.words].some((w) => w.toLowerCase().startsWith(cell.toLowerCase()))
const turned = (cells: string[][]): string[][] =>
  Array.from({ length: Math.max(...cells.map((line) => line.length)) }, (_, at) =>
    cells.map((line) => line[at] ?? ''),
  )
const filled = (values: Pasted['values']): boolean =>
  Object.values(values).some((row) => Object.keys(row).length > 0)

function put(
  values: Pasted['values'],
  key: string,
  cylinder: number | null | undefined,
  value: number | null,
) {
  if (cylinder == null || value === null) return
  values[key] = { ...values[key], [cylinder]: value }
}
