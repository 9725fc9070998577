import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse, analyseBranches, canBe } from '../../src/lib/core/rules/analyse';
import { compileRule } from '../../src/lib/core/rules/compile';
import { isGroup, type Group, type Rule } from '../../src/lib/core/schema/rule';
import { envOf, houseScopes, index, own, record } from '../support/world';

const env = envOf([]);
const test = (name: string, step: string, operand?: unknown): Rule => ({
  test: name,
  path: own(step),
  ...(operand === undefined ? {} : { operand }),
});
const all = (...rules: Rule[]): Group => ({ group: 'all', rules });
const any = (...rules: Rule[]): Group => ({ group: 'any', rules });
const none = (...rules: Rule[]): Group => ({ group: 'none', rules });
const made = (rule: Rule) => compileRule(rule, houseScopes, index);
const of = (rule: Rule) => analyse(made(rule), env);

const subsets = <T>(list: readonly T[]): T[][] =>
  list.reduce<T[][]>((sets, one) => [...sets, ...sets.map((set) => [...set, one])], [[]]);

/** Fields with tests of them, and every value that could matter to these: the brute force. */
const FIELDS: Record<string, { tests: fc.Arbitrary<Rule>; values: unknown[] }> = {
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
const group = (tests: fc.Arbitrary<Rule>): fc.Arbitrary<Group> => {
  const { rule } = fc.letrec<{ rule: Rule; group: Group }>((tie) => ({
    rule: fc.oneof({ depthSize: 'small' }, tests, tie('group')),
    group: fc.record({ group: fc.constantFrom('all', 'any', 'none'), rules: fc.array(tie('rule'), { maxLength: 4 }) }),
  }));
  return fc.record({
    group: fc.constantFrom<Group['group']>('all', 'any', 'none'),
    rules: fc.array(rule, { minLength: 1, maxLength: 4 }),
  });
};
const some = fc.uniqueArray(fc.constantFrom(...Object.keys(FIELDS)), { minLength: 1, maxLength: 3 });

/** Every record that could matter to tests of these fields. */
function records(names: string[]) {
  let out: Record<string, unknown>[] = [{}];
  for (const name of names)
    out = out.flatMap((one) => FIELDS[name]!.values.map((value) => ({ ...one, [name]: value })));
  return out.map(({ '@terms:area': terms, ...values }) => {
    const filled = Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined));
    return envOf([record(1, 'house', filled, { terms: (terms ?? []) as string[] })]);
  });
}

describe('what is known of a rule without records', () => {
  it('is what trying every value comes to', () => {
    const cases = some.chain((names) =>
      fc.tuple(fc.constant(names), group(fc.oneof(...names.map((name) => FIELDS[name]!.tests)))),
    );
    fc.assert(
      fc.property(cases, ([names, rule]) => {
        const compiled = made(rule);
        expect(compiled.problems).toEqual([]);
        const outcomes = records(names).map((at) => compiled.holds(at));
        const { never, always } = analyse(compiled, env);
        expect([never, always]).toEqual([!outcomes.includes(true), !outcomes.includes(false)]);
      }),
      { numRuns: 1500 },
    );
  });

  it('of alternatives is so too: shadowed ones, those that overlap, and whether there may be none', () => {
    const cases = some.chain((names) => {
      const rule = group(fc.oneof(...names.map((name) => FIELDS[name]!.tests)));
      return fc.tuple(fc.constant(names), fc.array(rule, { minLength: 2, maxLength: 4 }));
    });
    fc.assert(
      fc.property(cases, ([names, rules]) => {
        const compiled = rules.map(made);
        const rows = records(names).map((at) => compiled.map((rule) => rule.holds(at)));
        const { branches, nothing } = analyseBranches(compiled, env);
        expect(nothing).toBe(rows.some((row) => !row.includes(true)));
        for (const [i, branch] of branches.entries()) {
          const holds = rows.filter((row) => row[i]);
          expect(branch.never).toBe(!holds.length);
          expect(branch.shadowed).toBe(i > 0 && holds.length > 0 && holds.every((row) => row.indexOf(true) < i));
          expect(branch.overlaps).toEqual(rules.flatMap((_, j) => (j > i && holds.some((row) => row[j]) ? [j] : [])));
        }
      }),
      { numRuns: 400 },
    );
  });

  it('names the tests that contradict each other, and none that do not', () => {
    const rule = all(
      test('filled', 'name'),
      test('order.gt', 'height', 10),
      any(test('yesno.yes', 'open'), test('choice.is', 'state', 'good')),
      test('order.lt', 'height', 5),
    );
    const { never, conflict } = of(rule);
    expect(never).toBe(true);
    expect(conflict.map((part) => (isGroup(part.rule) ? part.rule.group : part.test?.operator.name))).toEqual([
      'order.gt',
      'order.lt',
    ]);
  });

  it('counts whole numbers as whole, bounds as bounds, and empties as what they are', () => {
    expect(of(all(test('order.gt', 'height', 3), test('order.lt', 'height', 4))).never).toBe(true);
    expect(of(all(test('order.gt', 'stars', 3), test('order.lt', 'stars', 4))).never).toBe(false);
    expect(of(all(test('order.gt', 'stars', 5))).never).toBe(true);
    // Zero and "no" are values; an empty one is neither.
    expect(of(any(test('yesno.yes', 'open'), test('yesno.no', 'open'))).always).toBe(false);
    expect(of(any(test('yesno.yes', 'open'), test('yesno.no', 'open'), test('empty', 'open'))).always).toBe(true);
    expect(of(all()).always).toBe(true);
    expect(of(none()).always).toBe(true);
  });

  it('is honest where it cannot be known: parts of text, other values, days that move', () => {
    // One text may well contain both; of these nothing is claimed but that they are possible.
    expect(of(all(test('text.contains', 'name', 'a'), test('text.lacks', 'name', 'b')))).toMatchObject({
      never: false,
      always: false,
    });
    expect(of(all(test('text.is', 'name', 'a'), test('text.is', 'name', 'b'))).never).toBe(true);
    expect(of(any(test('text.is', 'name', 'a'), test('text.isnt', 'name', 'A'))).always).toBe(true);
    const other: Rule = { test: 'order.gt', path: own('height'), other: own('stars') };
    expect(of(all(other, none(other))).never).toBe(true);
    expect(of(all(other)).never).toBe(false);
    expect(of(all(test('day.past', 'built'), test('order.gt', 'built', '2026-12-31'))).never).toBe(false);
    expect(of(all(test('whole.odd', 'stars'), test('order.gt', 'stars', 3)))).toMatchObject({
      never: false,
      always: false,
    });
    // A field that is gone: what cannot be read holds nowhere.
    expect(of(all(test('filled', 'gone'))).never).toBe(true);
  });

  it('comes to an end with a thousand tests, and with twenty groups in each other', () => {
    const many = any(...Array.from({ length: 1000 }, (_, i) => test('order.eq', 'height', i)));
    expect(of(many)).toMatchObject({ never: false, always: false });
    let deep: Group = all(test('yesno.yes', 'open'));
    for (let i = 0; i < 20; i++) deep = none(deep);
    expect(of(deep)).toMatchObject({ never: false, always: false });
    const wide = all(
      ...Array.from({ length: 16 }, (_, i) =>
        any(
          test('choices.any', 'uses', ['walk']),
          test('order.gt', 'stars', i / 4),
          test('terms.below', '@terms:area', ['hill']),
        ),
      ),
    );
    expect([true, undefined]).toContain(canBe([{ rule: made(wide), holds: true }], env));
  });
});
