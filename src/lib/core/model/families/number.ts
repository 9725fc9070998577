import { defineFamily, IN_WORDS } from '../family';

const total = (values: unknown[]): number => (values as number[]).reduce((a, b) => a + b, 0);

export const number = defineFamily<number>({
  name: 'number',
  columns: { number: (value) => value },
  order: 'number',
  tests: ['order', 'whole'],
  formats: ['number'],
  slots: [...IN_WORDS, 'number'],
  role: 'words',
  severalRole: 'words',
  takes: { sum: total, average: (values) => total(values) / values.length, extremes: true },
  operand: 'number',
  facet: {
    by: 'range',
    input: 'number',
    example: 'number',
    takes: (end) => Number.isFinite(Number(end)),
    from: (end) => ({ test: 'order.ge', operand: Number(end) }),
    to: (end) => ({ test: 'order.le', operand: Number(end) }),
    text: (at) => String(at),
  },
  possible: {
    by: 'line',
    at: (at) => at,
    whole: false,
    step: (settings) => 10 ** -((settings as { decimals?: number }).decimals ?? 6),
    within: () => true,
  },
  figure: (value, settings) => ({ value: value as number, unit: (settings as { unit?: string }).unit }),
  groups: true,
  told: (value) => value,
  figures: true,
});
