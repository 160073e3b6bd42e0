/** Numbers by row and cylinder; what was left empty is not there. */
export type Values = Record<string, Record<number, number | undefined>>

interface Given {
  values: Values
  extra: Record<string, number | undefined>
  choice: string
  /** Cylinders with every row filled, in firing order. */
  cylinders: readonly number[]
}

/** One test that is entered as numbers per cylinder. */
export interface Form {
  test: string
  title: string
  hint: string
  caution?: string
  kept: string
  rows: readonly { key: string; words: string }[]
  extra?: readonly { key: string; words: string; optional?: boolean }[]
  choice?: { words: string; options: readonly { value: string; words: string }[] }
  /** Cylinders needed; all of them if left out. */
  least?: number
  data: (given: Given) => Record<string, unknown>
}

const perCylinder = (row: Record<number, number | undefined>, cylinders: readonly number[]) =>
  Object.fromEntries(cylinders.map((c) => [String(c), row[c]]))

export const FORMS: readonly Form[] = [
  {
    test: 'cranking_speed',
    title: 'Cranking speed per cylinder, from a scan tool',
    hint: 'Wait until the table has settled, 8 to 10 s of cranking, and take the values while it still cranks. Faster is weaker.',
    kept: 'Speed table',
    rows: [{ key: 'rpm', words: 'rpm' }],
    extra: [{ key: 'seconds', words: 'seconds cranked' }],
    data: ({ values, extra, cylinders }) => ({
      cylinder_rpm: perCylinder(values.rpm!, cylinders),
      seconds: extra.seconds,
    }),
  },
  {
    test: 'power_balance',
    title: 'Power balance',
    hint: 'Read the speed, take one cylinder out, read at once, put it back and wait for the first speed. Cylinders may be left empty.',
    caution:
      'Never leave a coil open. Short cuts only: raw fuel overheats the catalyst. Not for anyone with a pacemaker. Follow the maker where unplugging is forbidden.',
    kept: 'Power balance',
    rows: [
      { key: 'before', words: 'rpm before' },
      { key: 'after', words: 'rpm after' },
    ],
    choice: {
      words: 'Idle control was',
      options: [
        { value: 'active', words: 'Active' },
        { value: 'fixed', words: 'Fixed' },
      ],
    },
    least: 2,
    data: ({ values, choice, cylinders }) => ({
      idle_control: choice,
      drops: cylinders.map((cylinder) => ({
        cylinder,
        rpm_before: values.before![cylinder],
        rpm_after: values.after![cylinder],
      })),
    }),
  },
  {
    test: 'misfire_counts',
    title: 'Misfire counts, from a scan tool',
    hint: 'Counts can stop when a misfire is gross, and a weak cylinder is not counted: a signal of your own is believed over them.',
    kept: 'Misfire counts',
    rows: [{ key: 'count', words: 'misfires' }],
    extra: [{ key: 'revolutions', words: 'revolutions, if known', optional: true }],
    data: ({ values, extra, cylinders }) => ({
      counts: perCylinder(values.count!, cylinders),
      ...(extra.revolutions ? { revolutions: extra.revolutions } : {}),
    }),
  },
]
