import { extremesOf, moneyNumber, parseMoney } from '../../base/money';
import type { Lookup, Operator } from './operator';

/** The number by which an amount is compared; amounts of different currencies lie apart. */
const key = (value: unknown): number => {
  const amount = parseMoney(String(value));
  return amount ? moneyNumber(amount) : Number.NaN;
};
/** The least and the largest number of the currency of an amount. */
const ends = (value: unknown): [number, number] => {
  const [least, most] = boundsOf(value);
  return [key(least), key(most)];
};
const boundsOf = (value: unknown): [string, string] => {
  const currency = parseMoney(String(value))?.currency;
  return currency ? extremesOf(currency) : ['', ''];
};

/** From and to which number a test holds, of an amount and of the ends of its currency. */
type Range = (at: number, least: number, most: number) => [number, number];
type Between = readonly [number, number];

/** `more` is what stands on the right beside the constant, for a test with two ends. */
const moneyTest = (name: string, label: string, range: Range, negative = false): Operator => ({
  name: `money.${name}`,
  label,
  group: 'money',
  takes: 'one',
  operand: 'same',
  negative,
  decided: { by: 'cuts', cuts: (operand) => [operand, ...boundsOf(operand)] },
  prepare: (operand) => range(key(operand), ...ends(operand)),
  seen: key,
  test: (value, operand) => within(value as number, operand as Between) !== negative,
  lookup: (operand): Lookup => ({ by: 'number', between: operand as [number, number], not: negative }),
});

const within = (at: number, [from, to]: Between): boolean => from <= at && at <= to;

/** Tests of amounts: all but “≠” are false of amounts of another currency. */
export const moneyOperators: Operator[] = [
  moneyTest('eq', '=', (at) => [at, at]),
  moneyTest('ne', '≠', (at) => [at, at], true),
  moneyTest('lt', '<', (at, least) => [least, at - 1]),
  moneyTest('le', '≤', (at, least) => [least, at]),
  moneyTest('gt', '>', (at, _least, most) => [at + 1, most]),
  moneyTest('ge', '≥', (at, _least, most) => [at, most]),
  {
    name: 'money.between',
    label: 'is between',
    group: 'money',
    takes: 'one',
    operand: 'range',
    decided: { by: 'cuts', cuts: (operand) => (operand as unknown[]).flatMap((end) => [end, ...boundsOf(end)]) },
    prepare: (operand) => {
      const [from, to] = operand as [unknown, unknown];
      // Ends of different currencies have nothing between them.
      return boundsOf(from)[0] === boundsOf(to)[0] ? [key(from), key(to)] : [1, 0];
    },
    seen: key,
    test: (value, operand) => within(value as number, operand as Between),
    lookup: (operand) => ({ by: 'number', between: operand as [number, number] }),
  },
  {
    ...moneyTest('currency', 'is of the currency of', (_at, least, most) => [least, most]),
    decided: { by: 'cuts', cuts: (operand) => boundsOf(operand) },
  },
];
