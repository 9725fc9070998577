import { dayNumber } from '../../base/write';
import type { ValueType } from '../../paths/scopes';
import type { Lookup, Operator } from './operator';

/** The number by which a value of an ordered kind is compared; that which the index has of it. */
const key = (value: unknown, { kind, settings }: ValueType): number =>
  kind.family.columns.number?.(value, settings) ?? Number.NaN;

const compareTest = (
  name: string,
  label: string,
  is: '=' | '<' | '<=' | '>' | '>=',
  compare: (a: number, b: number) => boolean,
  negative = false,
): Operator => ({
  name: `order.${name}`,
  label,
  group: 'order',
  takes: 'one',
  operand: 'same',
  negative,
  decided: { by: 'cuts', cuts: (operand) => [operand] },
  prepare: key,
  seen: key,
  test: (value, operand) => compare(value as number, operand as number) !== negative,
  lookup: (operand): Lookup => ({ by: 'number', is, value: operand as number, not: negative }),
});

const range = (operand: unknown, type: ValueType): [number, number] => {
  const [low, high] = operand as [unknown, unknown];
  return [key(low, type), key(high, type)];
};

/** Days from today, in the site's time zone, that a date or instant lies away; negative in the past. */
const daysAway: NonNullable<Operator['seen']> = (value, { kind }, { today, model }) =>
  dayNumber(kind.family.day?.(value, model.site) ?? '') - dayNumber(today);

const dayTest = (
  name: string,
  label: string,
  holds: (away: number, days: number) => boolean,
  bounds: (days: number) => [number, number],
  days = false,
): Operator => ({
  name: `day.${name}`,
  label,
  group: 'days',
  takes: 'one',
  operand: days ? 'days' : 'none',
  ...(days && { unit: 'days' }),
  decided: { by: 'days', cuts: (count) => bounds(count).filter((day) => Math.abs(day) < FOREVER) },
  seen: daysAway,
  test: (value, operand) => holds(value as number, Number(operand ?? 0)),
  lookup: (operand, env, type) => {
    // Days of instants follow the clocks of the site, and are left for memory.
    if (!type.kind.family.daysIndexed) return undefined;
    const today = dayNumber(env.today);
    const [from, to] = bounds(Number(operand ?? 0));
    return { by: 'number', between: [today + from, today + to] };
  },
});

/** Days beyond which no date of the calendar lies; stands for "without end" in look-ups. */
const FOREVER = 4_000_000;

export const orderOperators: Operator[] = [
  compareTest('eq', '=', '=', (a, b) => a === b),
  compareTest('ne', '≠', '=', (a, b) => a === b, true),
  compareTest('lt', '<', '<', (a, b) => a < b),
  compareTest('le', '≤', '<=', (a, b) => a <= b),
  compareTest('gt', '>', '>', (a, b) => a > b),
  compareTest('ge', '≥', '>=', (a, b) => a >= b),
  {
    name: 'order.between',
    label: 'is between',
    group: 'order',
    takes: 'one',
    operand: 'range',
    decided: { by: 'cuts', cuts: (operand) => operand as unknown[] },
    prepare: range,
    seen: key,
    test: (value, operand) => {
      const [low, high] = operand as [number, number];
      const at = value as number;
      return low <= at && at <= high;
    },
    lookup: (operand) => ({ by: 'number', between: operand as [number, number] }),
  },
  dayTest(
    'past',
    'is in the past',
    (away) => away < 0,
    () => [-FOREVER, -1],
  ),
  dayTest(
    'future',
    'is in the future',
    (away) => away > 0,
    () => [1, FOREVER],
  ),
  dayTest(
    'last',
    'is within the last … days',
    (away, days) => away <= 0 && away >= -days,
    (days) => [-days, 0],
    true,
  ),
  dayTest(
    'next',
    'is within the next … days',
    (away, days) => away >= 0 && away <= days,
    (days) => [0, days],
    true,
  ),
];
