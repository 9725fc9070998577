import { nominalSeconds, parseDuration, writeIso, ZERO, type Duration } from '../../base/duration';
import { defineFamily, IN_WORDS } from '../family';

const read = (value: unknown): Duration => parseDuration(String(value)) ?? ZERO;
const total = (values: unknown[]): Duration =>
  values.map(read).reduce((sum, one) => sum.map((amount, i) => amount + (one[i] ?? 0)) as unknown as Duration, ZERO);

/**
 * Spans of time. They are compared by their nominal length in seconds (a year 365.2425 days, a month a twelfth of that),
 * so that P1M lies between P30D and P31D; they add up part by part, so that nothing is rounded away.
 */
export const duration = defineFamily<string>({
  name: 'duration',
  columns: { number: (value) => nominalSeconds(read(value)) },
  order: 'number',
  tests: ['order'],
  formats: ['duration'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  takes: {
    sum: (values) => writeIso(total(values)),
    average: (values) => writeIso([0, 0, 0, 0, 0, 0, Math.round(nominalSeconds(total(values)) / values.length)]),
    extremes: true,
  },
  operand: 'duration',
  facet: {
    by: 'range',
    input: 'text',
    example: 'duration, such as PT2H30M',
    takes: (end) => parseDuration(end) !== undefined,
    from: (end) => ({ test: 'order.ge', operand: end }),
    to: (end) => ({ test: 'order.le', operand: end }),
    text: (at) => writeIso([0, 0, 0, 0, 0, 0, at]),
  },
  possible: {
    by: 'line',
    at: (at) => writeIso([0, 0, 0, 0, 0, 0, at]),
    whole: true,
    step: () => 1,
    within: (at) => at >= 0 && at <= 1e12,
  },
  groups: true,
  told: (value) => value,
});
