import type { Operator } from './operator';

const wholeTest = (
  name: string,
  label: string,
  operand: Operator['operand'],
  holds: (value: number, n: number) => boolean,
): Operator => ({
  name: `whole.${name}`,
  label,
  group: 'whole',
  takes: 'one',
  operand,
  test: (value, n) => Number.isInteger(value) && holds(value as number, Number(n ?? 0)),
  // Numbers that are odd, even and multiples, in and around what other tests ask for.
  tries: (n, among) => {
    const step = operand === 'count' ? Number(n) : 0;
    return [0, ...among.filter((one): one is number => typeof one === 'number')].flatMap((cut) => [
      ...[0, 1, 2, 3, -1, -2].map((by) => Math.round(cut) + by),
      ...(step > 0
        ? [Math.ceil(cut / step) * step, (Math.floor(cut / step) + 1) * step, (Math.ceil(cut / step) - 1) * step]
        : []),
    ]);
  },
});

/** Of whole numbers, such as the position in a loop; a number with a fraction is none of these. */
export const integerOperators: Operator[] = [
  wholeTest('odd', 'is odd', 'none', (value) => Math.abs(value % 2) === 1),
  wholeTest('even', 'is even', 'none', (value) => value % 2 === 0),
  wholeTest('every', 'is a multiple of', 'count', (value, n) => n > 0 && value % n === 0),
];
