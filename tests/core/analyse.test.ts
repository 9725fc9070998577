import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse, analyseBranches, canBe } from '../../src/lib/core/rules/analyse';
import { compileRule } from '../../src/lib/core/rules/compile';
import { isGroup, type Group, type Rule } from '../../src/lib/core/schema/rule';
import { all, any, everyRecord, FIELDS, group, none, some, test } from '../support/rules';
import { envOf, houseScopes, index, own } from '../support/world';

const env = envOf([]);
const made = (rule: Rule) => compileRule(rule, houseScopes, index);
const of = (rule: Rule) => analyse(made(rule), env);

describe('what is known of a rule without records', () => {
  it('is what trying every value comes to', () => {
    const cases = some.chain((names) =>
      fc.tuple(fc.constant(names), group(fc.oneof(...names.map((name) => FIELDS[name]!.tests)))),
    );
    fc.assert(
      fc.property(cases, ([names, rule]) => {
        const compiled = made(rule);
        expect(compiled.problems).toEqual([]);
        const outcomes = everyRecord(names)
          .map((one) => envOf([one]))
          .map((at) => compiled.holds(at));
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
        const rows = everyRecord(names)
          .map((one) => envOf([one]))
          .map((at) => compiled.map((rule) => rule.holds(at)));
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
