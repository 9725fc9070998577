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
});

/** Of whole numbers, such as the position in a loop; a number with a fraction is none of these. */
export const wholeOperators: Operator[] = [
  wholeTest('odd', 'is odd', 'none', (value) => Math.abs(value % 2) === 1),
  wholeTest('even', 'is even', 'none', (value) => value % 2 === 0),
  wholeTest('every', 'is a multiple of', 'count', (value, n) => n > 0 && value % n === 0),
];
