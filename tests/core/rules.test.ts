import fc from 'fast-check';
import sift from 'sift';
import { describe, expect, it } from 'vitest';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { compileRule } from '../../src/lib/core/rules/compile';
import { explain, ruleWords } from '../../src/lib/core/rules/explain';
import { operators } from '../../src/lib/core/rules/operators';
import { RuleSchema, type Group, type Rule, type Test } from '../../src/lib/core/schema/rule';
import { envOf, houseScopes, index, own, record } from '../support/world';

const test = (name: string, steps: string[], operand?: unknown): Test => ({
  test: name,
  path: own(...steps),
  ...(operand === undefined ? {} : { operand }),
});
const all = (...rules: Rule[]): Group => ({ group: 'all', rules });

function holds(rule: Rule, house: ContentRecord, others: ContentRecord[] = []): boolean {
  return compileRule(rule, houseScopes, index).holds(envOf([house, ...others]));
}

it('of whole numbers hold for zero and below it too, and for no fraction', () => {
  const at = (name: string, height: number, n?: number) =>
    holds(test(name, ['height'], n), record(1, 'house', { height }));
  expect([-3, -2, 0, 1, 1.5].map((n) => at('whole.odd', n))).toEqual([true, false, false, true, false]);
  expect([-3, -2, 0, 1, 1.5].map((n) => at('whole.even', n))).toEqual([false, true, true, false, false]);
  expect([-3, 0, 2, 6].map((n) => at('whole.every', n, 3))).toEqual([true, true, false, true]);
});

describe('rules', () => {
  const full = record(
    1,
    'house',
    { name: 'Grey École', height: 10, open: true, built: '2026-06-10', state: 'fair', ways: [3, 4], keeper: [2] },
    { terms: ['peak'] },
  );
  const bare = record(1, 'house');
  const others = [record(2, 'person'), record(3, 'way'), record(4, 'way')];

  it.each<[string, string[], unknown, boolean]>([
    ['text.is', ['name'], 'GREY E\u0301COLE', true],
    ['text.contains', ['name'], 'éc', true],
    ['text.lacks', ['name'], 'stone', true],
    ['text.starts', ['name'], 'grey', true],
    ['text.ends', ['name'], 'cole', true],
    ['text.oneof', ['name'], ['x', 'grey école'], true],
    ['order.eq', ['height'], 10, true],
    ['whole.even', ['height'], undefined, true],
    ['whole.odd', ['height'], undefined, false],
    ['whole.every', ['height'], 5, true],
    ['whole.every', ['height'], 3, false],
    ['whole.every', ['height'], 0, false],
    ['order.between', ['height'], [10, 12], true],
    ['order.between', ['height'], [11, 12], false],
    ['order.lt', ['built'], '2026-06-11', true],
    ['day.past', ['built'], undefined, true],
    ['day.last', ['built'], 5, true],
    ['day.last', ['built'], 4, false],
    ['day.future', ['built'], undefined, false],
    ['yesno.no', ['open'], undefined, false],
    ['choice.oneof', ['state'], ['fair', 'poor'], true],
    ['terms.below', ['@terms:area'], ['north'], true],
    ['terms.any', ['@terms:area'], ['north'], false],
    ['terms.nonebelow', ['@terms:area'], ['south'], true],
    ['relation.any', ['ways'], [4, 9], true],
    ['relation.all', ['ways'], [3, 4], true],
    ['relation.none', ['keeper'], [2], false],
    ['count.eq', ['ways'], 2, true],
    ['count.ge', ['ways'], 3, false],
    ['choice.is', ['@type'], 'house', true],
  ])('%s on %j with %j', (name, steps, operand, wanted) =>
    expect(holds(test(name, steps, operand), full, others)).toBe(wanted),
  );

  it('are false on empties, but for "is empty" and the negative ones', () => {
    const samples: Record<string, [string, unknown]> = {
      text: ['name', 'x'],
      order: ['height', 1],
      whole: ['height', 1],
      money: ['fee', '5.00 EUR'],
      days: ['built', '2026-01-01'],
      choice: ['state', 'fair'],
      choices: ['uses', 'ski'],
      yesno: ['open', true],
      terms: ['@terms:area', 'north'],
      records: ['ways', 3],
    };
    for (const operator of operators) {
      const group = operator.group ?? (operator.takes === 'list' ? 'records' : 'text');
      const [step, sample] = samples[group] as [string, unknown];
      const operand = { none: undefined, same: sample, several: [sample], range: [sample, sample], count: 0, days: 3 }[
        operator.operand
      ];
      if (operator.counts) continue;
      expect([operator.name, holds(test(operator.name, [step], operand), bare)]).toEqual([
        operator.name,
        operator.negative ?? false,
      ]);
    }
    expect(holds(test('count.eq', ['ways'], 0), bare)).toBe(true);
  });

  it('know 0 and "no" for values', () => {
    const zero = record(1, 'house', { height: 0, open: false });
    expect(holds(test('filled', ['height']), zero)).toBe(true);
    expect(holds(test('order.le', ['height'], 0), zero)).toBe(true);
    expect(holds(test('yesno.no', ['open']), zero)).toBe(true);
    expect(holds(test('empty', ['open']), zero)).toBe(false);
  });

  it('compare with the value of another path, of the same kind only', () => {
    const rule: Test = { ...test('order.lt', ['height']), other: own('keeper', 'age') };
    expect(holds(rule, full, [record(2, 'person', { age: 40 })])).toBe(true);
    expect(holds(rule, full, [record(2, 'person')])).toBe(false);
    const wrong = compileRule({ ...rule, other: own('name') }, houseScopes, index);
    expect(wrong.problems[0]?.what).toContain('cannot be compared');
  });

  it('never coerce: text is no number', () => {
    const made = compileRule(test('order.eq', ['height'], '10'), houseScopes, index);
    expect(made.problems[0]?.what).toBe('This is a number.');
    expect(made.holds(envOf([full]))).toBe(false);
    expect(compileRule(test('text.is', ['height'], '10'), houseScopes, index).problems[0]?.what).toContain(
      'does not fit',
    );
  });

  it('join in groups; an empty group holds', () => {
    const yes = test('filled', ['@title']);
    const no = test('empty', ['@title']);
    expect(holds(all(), full)).toBe(true);
    expect(holds({ group: 'any', rules: [] }, full)).toBe(true);
    expect(holds({ group: 'none', rules: [] }, full)).toBe(true);
    expect(holds(all(yes, no), full)).toBe(false);
    expect(holds({ group: 'any', rules: [no, yes] }, full)).toBe(true);
    expect(holds({ group: 'none', rules: [no, no] }, full)).toBe(true);
    expect(holds(all(yes, { group: 'none', rules: [yes] }), full)).toBe(false);
  });

  it('are total: whatever is broken sees nothing, and says so', () => {
    for (const broken of [
      test('text.is', ['gone'], 'x'),
      test('unheard.of', ['name']),
      test('order.eq', ['height']),
      test('choice.is', ['state'], 'splendid'),
    ]) {
      const made = compileRule(all(broken), houseScopes, index);
      expect(made.problems).toHaveLength(1);
      expect(made.holds(envOf([full]))).toBe(false);
    }
    expect(holds(test('text.isnt', ['gone'], 'x'), full)).toBe(true);
  });

  it('explain themselves with the values seen', () => {
    const rule = compileRule(
      {
        group: 'any',
        rules: [
          test('choice.is', ['state'], 'poor'),
          all(test('terms.below', ['@terms:area'], ['north']), test('filled', ['name'])),
        ],
      },
      houseScopes,
      index,
    );
    const env = envOf([record(1, 'house', { state: 'fair' }, { terms: ['hill'] })]);
    const why = explain(rule, env);
    expect(why).toMatchObject({
      holds: false,
      group: 'any',
      parts: [
        { holds: false, words: 'State is POOR', saw: 'FAIR' },
        {
          holds: false,
          parts: [
            { holds: true, saw: 'Hill' },
            { holds: false, words: 'Name has a value', saw: 'nothing' },
          ],
        },
      ],
    });
    expect(ruleWords(rule, env)).toBe('State is POOR or (Area is, or lies below, any of North and Name has a value)');
  });

  it('are parsed strictly, to a depth of twenty', () => {
    let deep: Rule = test('filled', ['name']);
    for (let i = 0; i < 20; i++) deep = all(deep);
    expect(RuleSchema.safeParse(deep).success).toBe(true);
    expect(RuleSchema.safeParse(all(deep)).success).toBe(false);
    expect(RuleSchema.safeParse({ group: 'some', rules: [] }).success).toBe(false);
    expect(RuleSchema.safeParse({ ...all(), script: 'x' }).success).toBe(false);
  });
});

/**
 * Against `sift`, a general-purpose library that filters objects by queries. Differences in meaning, brought to ours
 * below: it compares text by case; `$ne`, `$not` and `$nin` hold for missing values, as ours do; `$nor` of nothing is
 * refused there and holds here; it knows no terms and no ranges, which are spelt out.
 */
describe('rules against sift', () => {
  const WORDS = ['ash', 'birch', 'oak'];
  const maybe = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: undefined, freq: 3 });
  const values = fc.record({
    name: maybe(fc.constantFrom(...WORDS)),
    height: maybe(fc.integer({ min: -3, max: 3 })),
    open: maybe(fc.boolean()),
    state: maybe(fc.constantFrom('good', 'fair', 'poor')),
    ways: maybe(fc.uniqueArray(fc.integer({ min: 11, max: 14 }), { minLength: 1 })),
  });

  const numbers: [string, string][] = [
    ['order.eq', '$eq'],
    ['order.ne', '$ne'],
    ['order.lt', '$lt'],
    ['order.le', '$lte'],
    ['order.gt', '$gt'],
    ['order.ge', '$gte'],
  ];
  type Pair = { rule: Rule; query: Record<string, unknown> };
  const leaf: fc.Arbitrary<Pair> = fc.oneof(
    fc
      .tuple(fc.constantFrom(...numbers), fc.integer({ min: -3, max: 3 }))
      .map(([[ours, theirs], n]): Pair => ({ rule: test(ours, ['height'], n), query: { height: { [theirs]: n } } })),
    fc.tuple(fc.integer({ min: -3, max: 3 }), fc.integer({ min: -3, max: 3 })).map(([a, b]): Pair => ({
      rule: test('order.between', ['height'], [a, b]),
      query: { height: { $gte: a, $lte: b } },
    })),
    fc
      .constantFrom(...WORDS)
      .map((word): Pair => ({ rule: test('text.is', ['name'], word), query: { name: { $eq: word } } })),
    fc
      .constantFrom(...WORDS)
      .map((word): Pair => ({ rule: test('text.isnt', ['name'], word), query: { name: { $ne: word } } })),
    fc
      .constantFrom('a', 'ir', 'k')
      .map((part): Pair => ({ rule: test('text.contains', ['name'], part), query: { name: { $regex: part } } })),
    fc
      .uniqueArray(fc.constantFrom(...WORDS), { minLength: 1 })
      .map((list): Pair => ({ rule: test('text.oneof', ['name'], list), query: { name: { $in: list } } })),
    fc
      .boolean()
      .map((yes): Pair => ({ rule: test(yes ? 'yesno.yes' : 'yesno.no', ['open']), query: { open: { $eq: yes } } })),
    fc
      .uniqueArray(fc.constantFrom('good', 'fair', 'poor'), { minLength: 1 })
      .map((list): Pair => ({ rule: test('choice.oneof', ['state'], list), query: { state: { $in: list } } })),
    fc
      .uniqueArray(fc.integer({ min: 11, max: 14 }), { minLength: 1 })
      .map((list): Pair => ({ rule: test('relation.any', ['ways'], list), query: { ways: { $in: list } } })),
    fc
      .uniqueArray(fc.integer({ min: 11, max: 14 }), { minLength: 1 })
      .map((list): Pair => ({ rule: test('relation.all', ['ways'], list), query: { ways: { $all: list } } })),
    fc
      .uniqueArray(fc.integer({ min: 11, max: 14 }), { minLength: 1 })
      .map((list): Pair => ({ rule: test('relation.none', ['ways'], list), query: { ways: { $nin: list } } })),
    fc
      .constantFrom('name', 'height', 'open', 'state')
      .map((id): Pair => ({ rule: test('filled', [id]), query: { [id]: { $exists: true } } })),
    fc
      .constantFrom('name', 'height', 'open', 'state')
      .map((id): Pair => ({ rule: test('empty', [id]), query: { [id]: { $exists: false } } })),
  );
  const join = (kind: Group['group'], parts: Pair[]): Pair => ({
    rule: { group: kind, rules: parts.map((p) => p.rule) },
    query: { [{ all: '$and', any: '$or', none: '$nor' }[kind]]: parts.map((p) => p.query) },
  });
  const { rule: pair } = fc.letrec<{ rule: Pair }>((tie) => ({
    rule: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      leaf,
      fc
        .tuple(
          fc.constantFrom<Group['group']>('all', 'any', 'none'),
          fc.array(tie('rule'), { minLength: 1, maxLength: 4 }),
        )
        .map(([kind, parts]) => join(kind, parts)),
    ),
  }));

  it('give the same answers on generated records', () => {
    const ways = [11, 12, 13, 14].map((id) => record(id, 'way'));
    fc.assert(
      fc.property(pair, values, ({ rule, query }, given) => {
        const present = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined));
        expect(holds(rule, record(1, 'house', present), ways)).toBe(sift(query)(present));
      }),
      { numRuns: 1500 },
    );
  });
});
