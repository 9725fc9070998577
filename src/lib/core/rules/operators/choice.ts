import type { Operator } from './operator';

const isTest = (name: string, label: string, negative: boolean): Operator => ({
  name: `choice.${name}`,
  label,
  group: 'choice',
  takes: 'one',
  operand: 'same',
  negative,
  test: (value, operand) => (value === operand) !== negative,
  lookup: (operand) => ({ by: 'text', is: '=', value: operand as string, not: negative }),
});

const yesNoTest = (name: string, label: string, wanted: boolean): Operator => ({
  name: `yesno.${name}`,
  label,
  group: 'yesno',
  takes: 'one',
  operand: 'none',
  test: (value) => value === wanted,
  lookup: () => ({ by: 'number', is: '=', value: wanted ? 1 : 0 }),
});

export const choiceOperators: Operator[] = [
  isTest('is', 'is', false),
  isTest('isnt', 'is not', true),
  {
    name: 'choice.oneof',
    label: 'is one of',
    group: 'choice',
    takes: 'one',
    operand: 'several',
    test: (value, operand) => (operand as unknown[]).includes(value),
    lookup: (operand) => ({ by: 'text', in: operand as string[] }),
  },
  yesNoTest('yes', 'is yes', true),
  yesNoTest('no', 'is no', false),
];
