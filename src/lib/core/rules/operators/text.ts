import type { Env } from '../../paths/env';
import type { ValueType } from '../../paths/scopes';
import type { Operator } from './operator';

/** A value as the index has it for comparing; constants of links and rich text are words already. */
const words = (value: unknown, { kind, settings }: ValueType): string =>
  kind.family.columns.text?.(value, settings) ?? '';

/** Characters of a text as it reads, without markup: code points of its composed form (Unicode NFC). */
const lengthOf = (value: unknown, { kind, settings }: ValueType, { reader }: Env): number =>
  [...kind.text(value, settings, reader).normalize('NFC')].length;

/** Longer texts than this are not made up. */
const MOST_MADE = 10_000;

type Compare = (value: string, operand: string) => boolean;

const textTest = (
  name: string,
  label: string,
  compare: Compare,
  at: 'start' | 'end' | 'anywhere' | 'whole',
  negative = false,
): Operator => ({
  name: `text.${name}`,
  label,
  group: 'text',
  takes: 'one',
  operand: 'same',
  negative,
  ...(at === 'whole' && { decided: { by: 'texts', texts: (operand: unknown) => [operand] } as const }),
  prepare: words,
  seen: words,
  test: (value, operand) => compare(value as string, operand as string) !== negative,
  lookup: (operand) =>
    at === 'whole'
      ? { by: 'text', is: '=', value: operand as string, not: negative }
      : { by: 'text', has: operand as string, at, not: negative },
});

const is: Compare = (value, operand) => value === operand;
const contains: Compare = (value, operand) => value.includes(operand);

/** Text is compared after Unicode normalisation and without case. */
export const textOperators: Operator[] = [
  textTest('is', 'is', is, 'whole'),
  textTest('isnt', 'is not', is, 'whole', true),
  textTest('contains', 'contains', contains, 'anywhere'),
  textTest('lacks', 'does not contain', contains, 'anywhere', true),
  textTest('starts', 'starts with', (value, operand) => value.startsWith(operand), 'start'),
  textTest('ends', 'ends with', (value, operand) => value.endsWith(operand), 'end'),
  {
    name: 'text.oneof',
    label: 'is one of',
    group: 'text',
    takes: 'one',
    operand: 'several',
    decided: { by: 'texts', texts: (operand) => operand as unknown[] },
    prepare: (operand, type) => (operand as unknown[]).map((one) => words(one, type)),
    seen: words,
    test: (value, operand) => (operand as string[]).includes(value as string),
    lookup: (operand) => ({ by: 'text', in: operand as string[] }),
  },
  {
    name: 'text.longer',
    label: 'is longer than',
    group: 'text',
    takes: 'one',
    operand: 'count',
    unit: 'characters',
    seen: lengthOf,
    test: (value, operand) => (value as number) > Number(operand),
    // A text that another test asks for may be made longer at either end.
    tries: (operand, among) => {
      const most = Math.min(Number(operand), MOST_MADE);
      const texts = ['a', ...among.filter((one): one is string => typeof one === 'string' && one !== '')];
      return texts.flatMap((text) => [text.padEnd(most + 1, ' a'), text.padStart(most + 1, 'a '), text.slice(0, most)]);
    },
  },
];
