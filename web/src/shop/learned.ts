import type { Schemas } from '@/api/client'

type Line = Schemas['LearnedLine']
export interface Group {
  kind: Line['kind']
  words: string
  lines: readonly Line[]
}
const KINDS: Record<Line['kind'], string> = {
  prior: 'How often faults come',
  minutes: 'Minutes of tests',
  agreement: 'How far tests agree with what was found',
}
/** A share that moved less than this, either way, is as shipped to anybody who reads it. */
const MOVED = 0.1

/** Lines by what they are of; shares that hardly moved are left out of sight, they are in the export. */
export function byKind(lines: readonly Line[]): Group[] {
  return (Object.keys(KINDS) as Line['kind'][])
    .map((kind) => ({
      kind,
      words: KINDS[kind],
      lines: lines.filter((line) => line.kind === kind && (kind !== 'prior' || hasMoved(line))),
    }))
    .filter((group) => group.lines.length)
}
function hasMoved(line: Line): boolean {
  return !line.on || Math.abs(Math.log(line.here / line.shipped)) > MOVED
}

/** A share in per cent, minutes, or a weight. */
export function shownHere(kind: Line['kind'], value: number): string {
  if (kind === 'prior') return `${(100 * value).toFixed(1)} %`
  return kind === 'minutes' ? `${value.toFixed(0)} min` : value.toFixed(2)
}
