import type { Operator } from './operator';

/** Empties never reach `test`: they are settled by `negative`. */
const presenceOperators: Operator[] = [
  {
    name: 'filled',
    label: 'has a value',
    takes: 'either',
    operand: 'none',
    decided: { by: 'presence' },
    test: () => true,
    lookup: () => ({ by: 'presence' }),
  },
  {
    name: 'empty',
    label: 'is empty',
    takes: 'either',
    operand: 'none',
    negative: true,
    decided: { by: 'presence' },
    test: () => false,
    lookup: () => ({ by: 'presence', not: true }),
  },
];

const countTest = (name: string, label: string, compare: (count: number, wanted: number) => boolean): Operator => ({
  name: `count.${name}`,
  label,
  takes: 'list',
  operand: 'count',
  counts: true,
  decided: { by: 'count' },
  test: (value, operand) => compare((value as unknown[]).length, Number(operand)),
});

/** The count of an empty list is the number 0, which is not empty. */
export const generalOperators: Operator[] = [
  ...presenceOperators,
  countTest('eq', 'number is', (count, wanted) => count === wanted),
  countTest('ge', 'number is at least', (count, wanted) => count >= wanted),
  countTest('le', 'number is at most', (count, wanted) => count <= wanted),
];
