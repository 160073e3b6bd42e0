/** Numbers, words or ticks by row and cylinder; what was left empty is not there. */
export type Value = number | string | boolean | undefined
export type Values = Record<string, Record<number, Value>>

interface Given {
  values: Values
  extra: Record<string, number | undefined>
  texts: Record<string, string>
  choices: Record<string, string>
  /** Cylinders with every needed row filled, in firing order. */
  cylinders: readonly number[]
}

interface Option {
  value: string
  words: string
}

export interface FormRow {
  key: string
  words: string
  /** One of these words; a number if left out. */
  options?: readonly Option[]
  /** May stay empty at a cylinder that is kept. */
  optional?: boolean
  /** A tick that stands for a number (an open circuit). */
  tick?: boolean
}

export interface FormChoice {
  key: string
  words: string
  options: readonly Option[]
}

/** One test that is written down cylinder by cylinder. */
export interface Form {
  test: string
  title: string
  hint: string
  caution?: string
  kept: string
  rows: readonly FormRow[]
  extra?: readonly { key: string; words: string; optional?: boolean; signed?: boolean }[]
  /** Words that are written down, all needed. */
  texts?: readonly { key: string; words: string }[]
  choices?: readonly FormChoice[]
  /** Key of the expected readings; none is shown if left out. */
  expects?: (choices: Record<string, string>) => string
  /** Whether a reading may name a place along the injector circuit. */
  along?: (choices: Record<string, string>) => boolean
  /** Whether the calculator of currents and resistances helps here. */
  calculates?: (choices: Record<string, string>) => boolean
  /** Cylinders needed; all of them if left out. */
  least?: number
  data: (given: Given) => Record<string, unknown> | Record<string, unknown>[]
}

const perCylinder = (row: Record<number, Value>, cylinders: readonly number[]) =>
  Object.fromEntries(cylinders.map((c) => [String(c), row[c]]))
const words = (...values: string[]): Option[] =>
  values.map((value) => ({ value, words: value.replaceAll('_', ' ') }))
const either = (key: string, label: string, pairs: Record<string, string>): FormChoice => ({
  key,
  words: label,
  options: Object.entries(pairs).map(([value, text]) => ({ value, words: text })),
})

const HIGH_VOLTAGE =
  'High voltage at coils, leads and injectors: hands off while running, not for anyone with a pacemaker. Never leave a coil open.'
const FUEL_LINE =
  'Fuel under pressure: relieve it first, catch what leaves, extinguisher at hand, no sparks. Never open a line of common rail or direct injection; follow the maker’s procedure.'
const TEMPERATURE = either('temperature', 'Measured', { cold: 'Cold', hot: 'Hot' })
const PLACE = either('measured_at', 'Where', { part: 'At the part', control_unit: 'At the control unit' })

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
    choices: [either('idle', 'Idle control was', { active: 'Active', fixed: 'Fixed' })],
    least: 2,
    data: ({ values, choices, cylinders }) => ({
      idle_control: choices.idle,
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
  {
    test: 'resistance',
    title: 'Resistance, with the meter',
    hint: 'Key off, part unplugged. One reading is judged by the usual range, three and more by each other. Tick what reads open.',
    caution: 'Do not disturb a connector before an intermittent fault has been captured.',
    kept: 'Resistances',
    choices: [
      either('item', 'Of the', {
        coil_primary: 'Coil primary',
        coil_secondary: 'Coil secondary',
        plug_lead: 'Lead or boot',
        injector: 'Injector',
        control_wire: 'Command wire',
        feed_wire: 'Feed wire',
      }),
      TEMPERATURE,
    ],
    rows: [
      { key: 'ohms', words: 'ohm' },
      { key: 'open', words: 'open', tick: true },
    ],
    least: 1,
    calculates: (choices) => choices.item === 'injector',
    expects: (choices) => `resistance:${choices.item}`,
    data: ({ values, choices, cylinders }) =>
      cylinders.map((cylinder) => ({
        item: choices.item,
        temperature: choices.temperature,
        cylinder,
        ...(values.open![cylinder] ? { open: true } : { ohms: values.ohms![cylinder] }),
      })),
  },
  {
    test: 'voltage',
    title: 'Voltage, with the meter',
    hint: 'Feeds and earths under load: a lamp or the running part, not an open plug. Where along the wire you measured decides what it means.',
    caution: HIGH_VOLTAGE,
    kept: 'Voltages',
    choices: [
      either('item', 'Of the', {
        coil_feed: 'Coil feed',
        coil_earth: 'Coil earth',
        coil_control_low: 'Command, low level',
        coil_control_high: 'Command, high level',
        injector_feed: 'Injector feed',
        injector_control: 'Injector control side',
      }),
      PLACE,
      either('plug', 'The part was', { plugged: 'Plugged in', unplugged: 'Unplugged' }),
      either('engine_state', 'With', { key_on: 'Key on', running: 'Engine running', cranking: 'Cranking' }),
    ],
    rows: [{ key: 'volts', words: 'volt' }],
    least: 1,
    along: (choices) => choices.item?.startsWith('injector') ?? false,
    expects: (choices) => `voltage:${choices.item}`,
    data: ({ values, choices, cylinders }) =>
      cylinders.map((cylinder) => ({
        item: choices.item,
        measured_at: choices.measured_at,
        unplugged: choices.plug === 'unplugged',
        engine_state: choices.engine_state,
        ...(choices.place ? { place: choices.place } : {}),
        cylinder,
        volts: values.volts![cylinder],
      })),
  },
  {
    test: 'swap',
    title: 'Parts changed over',
    hint: 'Change the part of the suspect with a sound neighbour’s. A misfire that moves proves the part, one that stays clears it.',
    caution: HIGH_VOLTAGE,
    kept: 'Change-over',
    choices: [either('part', 'Part', { coil: 'Coil', plug: 'Plug', lead: 'Lead', injector: 'Injector' })],
    rows: [{ key: 'moved', words: 'the misfire', options: words('moved', 'stayed') }],
    extra: [{ key: 'to', words: 'changed with cylinder' }],
    least: 1,
    data: ({ values, extra, choices, cylinders }) =>
      cylinders.map((cylinder) => ({
        part: choices.part,
        from: cylinder,
        to: extra.to,
        moved: values.moved![cylinder] === 'moved',
      })),
  },
  {
    test: 'spark_check',
    title: 'Spark on free air',
    hint: 'A spark that jumps a gap in air is no proof under cylinder pressure: there it takes 25 kV and more. None, or a weak one, is a finding.',
    caution: HIGH_VOLTAGE,
    kept: 'Spark check',
    choices: [either('measured_at', 'Where', { lead_end: 'At the lead end', coil: 'At the coil' })],
    rows: [{ key: 'spark', words: 'spark', options: words('strong', 'weak', 'none') }],
    least: 1,
    data: ({ values, choices, cylinders }) =>
      cylinders.map((cylinder) => ({
        measured_at: choices.measured_at,
        cylinder,
        spark: values.spark![cylinder],
      })),
  },
  {
    test: 'load_lamp',
    title: 'Lamp in place of the part',
    hint: 'A bulb of about 2 A shows that wiring and driver carry load, which a voltmeter does not.',
    caution: HIGH_VOLTAGE,
    kept: 'Lamp readings',
    choices: [
      either('circuit', 'In the circuit of the', { coil: 'Coil', injector: 'Injector', feed: 'Feed' }),
    ],
    rows: [{ key: 'lamp', words: 'lamp', options: words('flashing', 'bright', 'dim', 'dark') }],
    least: 1,
    data: ({ values, choices, cylinders }) =>
      cylinders.map((cylinder) => ({ circuit: choices.circuit, cylinder, lamp: values.lamp![cylinder] })),
  },
  {
    test: 'leak_down',
    title: 'Leak-down',
    hint: 'Cylinder at top dead centre of compression, regulated air in. Up to 10 % is good, above 20 % is a fault; listen where it leaves.',
    caution:
      'Air can turn the engine: hands and tools clear, key out, gear and wheels blocked as the maker says. Shield open plug holes.',
    kept: 'Leak-down',
    rows: [
      { key: 'percent', words: 'per cent lost' },
      {
        key: 'heard',
        words: 'heard at',
        options: words('nowhere', 'intake', 'exhaust', 'oil_filler', 'coolant', 'neighbour'),
      },
    ],
    least: 1,
    data: ({ values, cylinders }) =>
      cylinders.map((cylinder) => ({
        cylinder,
        percent: values.percent![cylinder],
        heard_at: values.heard![cylinder] === 'nowhere' ? [] : [values.heard![cylinder]],
      })),
  },
  {
    test: 'compression_gauge',
    title: 'Compression gauge, dry and with oil',
    hint: 'All plugs out, throttle open, same number of strokes for each, battery charged. A spoon of oil in the low one: rises is rings, stays is valves or gasket. It says that it leaks, not where.',
    caution:
      'Open plug holes: petrol vapour and sparks. Shield them, disable fuel and ignition, extinguisher at hand. A cylinder full of liquid bends its rod: turn by hand first.',
    kept: 'Compressions',
    choices: [either('unit', 'In', { kPa: 'kPa', bar: 'bar', psi: 'psi' })],
    rows: [
      { key: 'dry', words: 'dry' },
      { key: 'wet', words: 'with oil', optional: true },
    ],
    least: 1,
    expects: () => 'compression_gauge',
    data: ({ values, choices, cylinders }) => ({
      unit: choices.unit,
      dry: perCylinder(values.dry!, cylinders),
      wet: Object.fromEntries(
        cylinders.filter((c) => values.wet![c] != null).map((c) => [String(c), values.wet![c]]),
      ),
    }),
  },
  {
    test: 'authorisation',
    title: 'The owner’s yes to open the engine',
    hint: 'Taking an engine apart costs money whatever is found. Say what was agreed, by whom, and up to how much.',
    kept: 'Authorisation',
    rows: [],
    texts: [
      { key: 'who', words: 'who agreed' },
      { key: 'amount', words: 'up to how much' },
      { key: 'note', words: 'to what' },
    ],
    least: 0,
    data: ({ texts }) => ({ ...texts }),
  },
  {
    test: 'vacuum',
    title: 'Manifold vacuum at idle',
    hint: 'Engine warm, at idle, at a port without a check valve: behind one the highest vacuum stays and tells nothing.',
    caution: 'Clear of belts and fans; exhaust gas outdoors.',
    kept: 'Vacuum',
    rows: [],
    choices: [
      either('unit', 'In', { kpa_below_atmosphere: 'kPa below the atmosphere', inhg: 'inHg' }),
      either('port', 'The port has', { free: 'No check valve', valve: 'A check valve' }),
    ],
    extra: [{ key: 'reading', words: 'reading' }],
    least: 0,
    data: ({ extra, choices }) => ({
      [choices.unit!]: extra.reading,
      engine_state: 'running',
      ...(choices.port === 'valve' ? { check_valve: true } : {}),
    }),
  },
  {
    test: 'fuel_pressure',
    title: 'Fuel pressure and volume',
    hint: 'Judged by the maker’s figures. Volume, and the pressure some minutes after the pump stopped, are worth the extra minute.',
    caution: FUEL_LINE,
    kept: 'Fuel pressure',
    rows: [],
    extra: [
      { key: 'kpa', words: 'measured, kPa' },
      { key: 'low_kpa', words: 'lowest allowed' },
      { key: 'high_kpa', words: 'highest allowed' },
      { key: 'kpa_after', words: 'kPa, pump off', optional: true },
      { key: 'minutes', words: 'after minutes', optional: true },
      { key: 'volume_ml', words: 'volume, ml', optional: true },
      { key: 'least_ml', words: 'at least, ml', optional: true },
    ],
    least: 0,
    data: ({ extra }) => Object.fromEntries(Object.entries(extra).filter(([, v]) => v !== undefined)),
  },
  {
    test: 'fuel_trim',
    title: 'Fuel trims, from a scan tool',
    hint: 'Short and long trim of one bank, engine warm. A dead cylinder passes its air on unburnt and can look lean.',
    kept: 'Fuel trims',
    rows: [],
    extra: [
      { key: 'bank', words: 'bank, if more than one', optional: true },
      { key: 'short_percent', words: 'short, per cent', signed: true },
      { key: 'long_percent', words: 'long, per cent', signed: true },
    ],
    least: 0,
    data: ({ extra }) => ({
      bank: extra.bank ?? 1,
      short_percent: extra.short_percent,
      long_percent: extra.long_percent,
    }),
  },
  {
    test: 'delivery',
    title: 'Injector delivery, by pressure drop',
    hint: 'Rail filled to the same pressure each time, each injector pulsed alike by a tester at its own plug. Write down how far the pressure drops.',
    caution: FUEL_LINE,
    kept: 'Deliveries',
    rows: [{ key: 'drop', words: 'kPa dropped' }],
    least: 2,
    data: ({ values, cylinders }) => ({ drops_kpa: perCylinder(values.drop!, cylinders) }),
  },
  {
    test: 'key_cycle',
    title: 'Key off, then the first seconds after the start',
    hint: 'A unit that withholds fuel because it saw a misfire injects again for a while after a key cycle. A driver that failed stays dead.',
    caution: 'The engine runs: clear of belts and fans, exhaust led outdoors.',
    kept: 'Key cycles',
    rows: [{ key: 'injection', words: 'injection', options: words('returns', 'stays_away', 'never_away') }],
    least: 1,
    data: ({ values, cylinders }) =>
      cylinders.map((cylinder) => ({ cylinder, injection: values.injection![cylinder] })),
  },
  {
    test: 'runner_check',
    title: 'Smoke or propane at the runners',
    hint: 'One lean cylinder alone has a leak behind the throttle beside it, or a starved injector. Speed or mixture that reacts is a leak.',
    caution:
      'Propane and smoke near a running engine: no sparks, aired, extinguisher at hand. Clear of belts and fans.',
    kept: 'Checks',
    choices: [
      either('place', 'At the', {
        runner: 'Intake runner',
        injector_seal: 'Injector seal',
        egr_port: 'Exhaust gas port',
      }),
      either('by', 'With', { smoke: 'Smoke', propane: 'Propane', ear: 'The ear' }),
    ],
    rows: [{ key: 'seen', words: 'it', options: words('tight', 'leak') }],
    least: 1,
    data: ({ values, choices, cylinders }) =>
      cylinders.map((cylinder) => ({
        place: choices.place,
        by: choices.by,
        cylinder,
        seen: values.seen![cylinder],
      })),
  },
  {
    test: 'visual',
    title: 'A look at the parts',
    hint: 'What the eye sees, cylinder by cylinder. Water with a little salt on leads and coils brings out leakage.',
    caution:
      'Open plug holes: petrol vapour and sparks. Shield them, disable ignition, extinguisher at hand.',
    kept: 'Looks',
    choices: [
      either('item', 'Of the', {
        plug: 'Plug',
        lead: 'Lead or boot',
        coil: 'Coil',
        connector: 'Connector',
        cylinder: 'Cylinder, by camera',
      }),
    ],
    rows: [
      {
        key: 'seen',
        words: 'looks',
        options: words(
          'clean',
          'wet',
          'worn',
          'fouled',
          'tracked',
          'burnt',
          'cracked',
          'corroded',
          'damaged',
        ),
      },
    ],
    least: 1,
    data: ({ values, choices, cylinders }) =>
      cylinders.map((cylinder) => ({ item: choices.item, cylinder, seen: values.seen![cylinder] })),
  },
]
