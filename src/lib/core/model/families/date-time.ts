import { dayNumber, dayOf, isFullDate, localDay, startOfDay } from '../../base/write';
import { defineFamily, IN_WORDS } from '../family';

const nextDay = (day: string): string => dayOf(dayNumber(day) + 1);

/** Instants, compared by milliseconds since 1970; their days are those of the site's time zone. */
export const dateTime = defineFamily<string>({
  name: 'datetime',
  columns: { number: (value) => Date.parse(value) },
  order: 'number',
  tests: ['order', 'days'],
  formats: ['day', 'clock'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  takes: { extremes: true },
  operand: 'instant',
  facet: {
    by: 'range',
    input: 'date',
    example: 'date, such as 2026-05-31',
    takes: isFullDate,
    from: (end, { timeZone }) => ({ test: 'order.ge', operand: startOfDay(end, timeZone).toISOString() }),
    // Up to the end of the day, whatever its hours.
    to: (end, { timeZone }) => ({ test: 'order.lt', operand: startOfDay(nextDay(end), timeZone).toISOString() }),
    text: (at, { timeZone }) => localDay(new Date(at), timeZone),
  },
  possible: {
    by: 'line',
    at: (at) => new Date(at).toISOString(),
    whole: true,
    step: () => 1,
    within: () => true,
    instants: true,
  },
  groups: true,
  day: (value, { timeZone }) => localDay(new Date(String(value)), timeZone),
  told: (value) => value,
});
