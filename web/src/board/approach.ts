import { SCHOOL_WORDS } from '@/shared/words'

/** Where practitioners differ, and the words for each side. */
export const SETTINGS = [
  { key: 'order', words: 'Which tests come first', values: SCHOOL_WORDS },
  {
    key: 'scan_data',
    words: 'What the control unit reports',
    values: {
      enough_to_start: 'Enough to start with',
      weighed: 'Weighed, a little less than a signal',
      raw_only: 'Raw signals first, hardly believed',
    },
  },
  {
    key: 'by_hand',
    words: 'Readings without a record',
    values: { trusted: 'Trusted', weighed: 'Weighed less than a record' },
  },
  {
    key: 'proof',
    words: 'How a part is proven',
    values: {
      either: 'Either way',
      swap_to_prove: 'Change it over',
      measure_in_place: 'Measure in place, disturb nothing',
    },
  },
  {
    key: 'repair',
    words: 'What the owner is offered first',
    values: { part_only: 'The failed part', the_set: 'The set' },
  },
] as const
