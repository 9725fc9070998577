import { dayNumber, dayOf, isFullDate } from '../../base/write';
import { defineFamily, IN_WORDS } from '../family';

/** Days of the calendar, as full-dates; compared by days since 1970. */
export const date = defineFamily<string>({
  name: 'date',
  columns: { number: (value) => dayNumber(value) },
  order: 'number',
  tests: ['order', 'days'],
  formats: ['day'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  takes: { extremes: true },
  operand: 'date',
  facet: {
    by: 'range',
    input: 'date',
    example: 'date, such as 2026-05-31',
    takes: isFullDate,
    from: (end) => ({ test: 'order.ge', operand: end }),
    to: (end) => ({ test: 'order.le', operand: end }),
    text: (at) => dayOf(at),
  },
  possible: { by: 'line', at: (at) => dayOf(Math.round(at)), whole: true, step: () => 1, within: () => true },
  groups: true,
  daysIndexed: true,
  day: (value) => String(value),
  told: (value) => value,
});
