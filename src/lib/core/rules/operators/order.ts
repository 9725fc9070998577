import { dayNumber, localDay, minutesOf } from '../../base/write';
import type { ValueType } from '../../paths/scopes';
import type { Lookup, Operator } from './operator';

const families: Operator['families'] = ['number', 'date', 'time', 'datetime'];

/** The number by which a value of an ordered kind is compared: itself, days, minutes, or milliseconds since 1970. */
function key(value: unknown, type: ValueType): number {
  if (type.kind.family === 'number') return value as number;
  if (type.kind.family === 'time') return minutesOf(value as string);
  return type.kind.family === 'date' ? dayNumber(value as string) : Date.parse(value as string);
}

const compareTest = (
  name: string,
  label: string,
  is: '=' | '<' | '<=' | '>' | '>=',
  compare: (a: number, b: number) => boolean,
  negative = false,
): Operator => ({
  name: `order.${name}`,
  label,
  families,
  takes: 'one',
  operand: 'same',
  negative,
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
const daysAway: NonNullable<Operator['seen']> = (value, _type, { today, model }) => {
  const text = value as string;
  return dayNumber(text.length > 10 ? localDay(new Date(text), model.site.timeZone) : text) - dayNumber(today);
};

const dayTest = (
  name: string,
  label: string,
  holds: (away: number, days: number) => boolean,
  bounds: (days: number) => [number, number],
  days = false,
): Operator => ({
  name: `day.${name}`,
  label,
  families: ['date', 'datetime'],
  takes: 'one',
  operand: days ? 'days' : 'none',
  seen: daysAway,
  test: (value, operand) => holds(value as number, Number(operand ?? 0)),
  lookup: (operand, env, type) => {
    if (type.kind.family !== 'date') return undefined;
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
    families,
    takes: 'one',
    operand: 'range',
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
