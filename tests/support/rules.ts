import fc from 'fast-check';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import type { Group, Rule } from '../../src/lib/core/schema/rule';
import { own, record } from './world';

export const test = (name: string, step: string, operand?: unknown): Rule => ({
  test: name,
  path: own(step),
  ...(operand === undefined ? {} : { operand }),
});
export const all = (...rules: Rule[]): Group => ({ group: 'all', rules });
export const any = (...rules: Rule[]): Group => ({ group: 'any', rules });
export const none = (...rules: Rule[]): Group => ({ group: 'none', rules });
export const subsets = <T>(list: readonly T[]): T[][] =>
  list.reduce<T[][]>((sets, one) => [...sets, ...sets.map((set) => [...set, one])], [[]]);

/** Fields of houses with tests of them, and every value that could matter to these: the brute force. */
export const FIELDS: Record<string, { tests: fc.Arbitrary<Rule>; values: unknown[] }> = {
  open: {
    tests: fc.constantFrom('yesno.yes', 'yesno.no', 'filled', 'empty').map((name) => test(name, 'open')),
    values: [undefined, true, false],
  },
  state: {
    tests: fc.oneof(
      fc
        .tuple(fc.constantFrom('choice.is', 'choice.isnt'), fc.constantFrom('good', 'fair', 'poor'))
        .map(([name, key]) => test(name, 'state', key)),
      fc
        .uniqueArray(fc.constantFrom('good', 'fair', 'poor'), { minLength: 1 })
        .map((keys) => test('choice.oneof', 'state', keys)),
      fc.constantFrom('filled', 'empty').map((name) => test(name, 'state')),
    ),
    values: [undefined, 'good', 'fair', 'poor'],
  },
  stars: {
    tests: fc.oneof(
      fc
        .tuple(fc.constantFrom('eq', 'ne', 'lt', 'le', 'gt', 'ge'), fc.constantFrom(0, 2, 5))
        .map(([name, n]) => test(`order.${name}`, 'stars', n)),
      fc
        .tuple(fc.constantFrom(0, 2, 5), fc.constantFrom(0, 2, 5))
        .map((range) => test('order.between', 'stars', range)),
    ),
    values: [undefined, 0, 1, 2, 3.5, 5],
  },
  // Whole metres: between 3 and 4 there is none.
  height: {
    tests: fc
      .tuple(fc.constantFrom('lt', 'le', 'gt', 'ge', 'ne'), fc.constantFrom(3, 4))
      .map(([name, n]) => test(`order.${name}`, 'height', n)),
    values: [undefined, 2, 3, 4, 5],
  },
  built: {
    tests: fc
      .tuple(fc.constantFrom('past', 'future', 'last', 'next'), fc.constantFrom(0, 3))
      .map(([name, days]) => test(`day.${name}`, 'built', name === 'last' || name === 'next' ? days : undefined)),
    values: [undefined, ...['10', '11', '12', '14', '15', '16', '18', '19', '25'].map((day) => `2026-06-${day}`)],
  },
  uses: {
    tests: fc.oneof(
      fc
        .tuple(
          fc.constantFrom('any', 'all', 'none'),
          fc.uniqueArray(fc.constantFrom('walk', 'ski', 'rest'), { minLength: 1 }),
        )
        .map(([name, keys]) => test(`choices.${name}`, 'uses', keys)),
      fc.tuple(fc.constantFrom('eq', 'ge', 'le'), fc.nat(3)).map(([name, n]) => test(`count.${name}`, 'uses', n)),
    ),
    values: subsets(['walk', 'ski', 'rest']),
  },
  '@terms:area': {
    tests: fc
      .tuple(
        fc.constantFrom('any', 'all', 'none', 'below', 'nonebelow'),
        fc.uniqueArray(fc.constantFrom('north', 'hill', 'peak', 'south'), { minLength: 1, maxLength: 2 }),
      )
      .map(([name, terms]) => test(`terms.${name}`, '@terms:area', terms)),
    values: subsets(['north', 'hill', 'peak', 'south']),
  },
};
export const group = (tests: fc.Arbitrary<Rule>): fc.Arbitrary<Group> => {
  const { rule } = fc.letrec<{ rule: Rule; group: Group }>((tie) => ({
    rule: fc.oneof({ depthSize: 'small' }, tests, tie('group')),
    group: fc.record({ group: fc.constantFrom('all', 'any', 'none'), rules: fc.array(tie('rule'), { maxLength: 4 }) }),
  }));
  return fc.record({
    group: fc.constantFrom<Group['group']>('all', 'any', 'none'),
    rules: fc.array(rule, { minLength: 1, maxLength: 4 }),
  });
};
export const some = fc.uniqueArray(fc.constantFrom(...Object.keys(FIELDS)), { minLength: 1, maxLength: 3 });

/** Every record that could matter to tests of these fields. */
export function everyRecord(names: string[]): ContentRecord[] {
  let out: Record<string, unknown>[] = [{}];
  for (const name of names)
    out = out.flatMap((one) => FIELDS[name]!.values.map((value) => ({ ...one, [name]: value })));
  return out.map(({ '@terms:area': terms, ...values }) => {
    const filled = Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined));
    return record(1, 'house', filled, { terms: (terms ?? []) as string[] });
  });
}
