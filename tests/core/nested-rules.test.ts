import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { indexModel } from '../../src/lib/core/model/model';
import { analyse } from '../../src/lib/core/rules/analyse';
import { movePart, partAt, withPart } from '../../src/lib/core/rules/parts';
import { compileRule } from '../../src/lib/core/rules/compile';
import { explain, ruleWords } from '../../src/lib/core/rules/explain';
import { circleOf, parseNamedRule } from '../../src/lib/core/rules/named';
import type { NamedRule } from '../../src/lib/core/schema/named-rule';
import { pathsOf, testsOf } from '../../src/lib/core/rules/walk';
import { RuleSchema, type Group, type Rule, type Test, type Where } from '../../src/lib/core/schema/rule';
import { changesFor } from '../../src/lib/core/rules/outcomes';
import { envOf, field, houseScopes, index, model, own, record } from '../support/world';

const all = (...rules: Rule[]): Group => ({ group: 'all', rules });
const any = (...rules: Rule[]): Group => ({ group: 'any', rules });
const none = (...rules: Rule[]): Group => ({ group: 'none', rules });
const test = (name: string, step: string, operand?: unknown): Test => ({
  test: name,
  path: own(step),
  ...(operand === undefined ? {} : { operand }),
});
const of = (as: string, name: string, step: string, operand?: unknown): Test => ({
  test: name,
  path: { from: `loop:${as}`, steps: [step] },
  ...(operand === undefined ? {} : { operand }),
});
const where = (rows: Where['rows'], step: string, as: string, ...rules: Rule[]): Where => ({
  rows,
  path: own(step),
  as,
  where: all(...rules),
});

/** Houses with rooms, and beds in these. */
const withRooms = indexModel({
  ...model,
  types: model.types.map((type) =>
    type.id === 'house'
      ? {
          ...type,
          fields: [
            ...type.fields,
            field('rooms', 'rows', {
              fields: [
                field('size', 'number'),
                field('beds', 'rows', { fields: [field('soft', 'yesno'), field('price', 'number')] }),
              ],
            }),
          ],
        }
      : type,
  ),
});

describe('a rule asked of rows', () => {
  const holds = (rule: Rule, values: Record<string, unknown>): boolean => {
    const env = { ...envOf([record(1, 'house', values)]), model: withRooms };
    return compileRule(rule, houseScopes, withRooms).holds(env);
  };

  it('is what "some", "every" and "none" are over lists, as JavaScript has them; of no rows only "none" holds', () => {
    const room = fc.record({ size: fc.option(fc.integer({ min: 0, max: 5 }), { nil: undefined }) });
    fc.assert(
      fc.property(fc.array(room, { maxLength: 4 }), fc.integer({ min: 0, max: 5 }), (rooms, least) => {
        const big = (one: { size?: number }) => one.size !== undefined && one.size >= least;
        const asked = (rows: Where['rows']) =>
          holds(where(rows, 'rooms', 'r', of('r', 'order.ge', 'size', least)), { rooms });
        expect(asked('some')).toBe(rooms.some(big));
        expect(asked('every')).toBe(rooms.length > 0 && rooms.every(big));
        expect(asked('none')).toBe(!rooms.some(big));
      }),
      { numRuns: 300 },
    );
  });

  it('goes into rows within rows, and reads the record and the outer row from in there', () => {
    const rule = where('some', 'rooms', 'r', {
      rows: 'every',
      path: { from: 'loop:r', steps: ['beds'] },
      as: 'b',
      where: all(of('b', 'yesno.yes', 'soft'), {
        test: 'order.lt',
        path: { from: 'loop:b', steps: ['price'] },
        other: { from: 'loop:r', steps: ['size'] },
      }),
    });
    const bed = (soft: boolean, price: number) => ({ soft, price });
    expect(holds(rule, { rooms: [{ size: 9, beds: [bed(true, 3), bed(true, 8)] }] })).toBe(true);
    expect(holds(rule, { rooms: [{ size: 9, beds: [bed(true, 3), bed(false, 8)] }] })).toBe(false);
    expect(
      holds(rule, {
        rooms: [
          { size: 5, beds: [bed(true, 8)] },
          { size: 9, beds: [] },
        ],
      }),
    ).toBe(false);
  });

  it('goes over related records by their own values', () => {
    const house = record(1, 'house', { ways: [2, 3] });
    const ways = [record(2, 'way', {}, { title: 'Long way' }), record(3, 'way', {}, { title: 'Short way' })];
    const env = envOf([house, ...ways]);
    const asked = (rows: Where['rows'], words: string) =>
      compileRule(where(rows, 'ways', 'w', of('w', 'text.contains', '@title', words)), houseScopes, index).holds(env);
    expect([asked('some', 'long'), asked('every', 'way'), asked('every', 'long'), asked('none', 'sea')]).toEqual([
      true,
      true,
      false,
      true,
    ]);
  });

  it('says what it saw, row by row, and reads back as a sentence', () => {
    const rule = compileRule(where('some', 'rooms', 'r', of('r', 'order.ge', 'size', 4)), houseScopes, withRooms);
    const env = { ...envOf([record(1, 'house', { rooms: [{ size: 3 }, { size: 7 }] })]), model: withRooms };
    expect(ruleWords(rule, env)).toBe('rooms has some for which size ≥ 4');
    const told = explain(rule, env);
    expect(told).toMatchObject({ holds: true, saw: '2, of which 1 would do' });
    expect(told.parts.map(({ holds, words }) => [holds, words])).toEqual([
      [false, 'No. 1: size ≥ 4'],
      [true, 'No. 2: size ≥ 4'],
    ]);
  });

  it('cannot be asked of one value, of a deleted field, or of what has no rows; it then holds nowhere', () => {
    for (const step of ['height', 'gone', 'name']) {
      const made = compileRule(where('none', step, 'r'), houseScopes, index);
      expect(made.problems).toHaveLength(1);
      expect(made.holds(envOf([record(1, 'house')]))).toBe(false);
    }
  });

  it('reads paths that are told from where its rows stand, and keeps its own when others are changed', () => {
    const rule = where('some', 'rooms', 'r', of('r', 'filled', 'size'), test('filled', 'name'));
    expect(pathsOf(rule)).toEqual([own('rooms'), own('rooms', 'size'), own('name')]);
  });

  it('is nothing that an analysis takes for granted, but the same comes out the same', () => {
    const asked = where('some', 'ways', 'w', of('w', 'filled', '@title'));
    const again = where('some', 'ways', 'other', of('other', 'filled', '@title'));
    const env = envOf([]);
    const told = (rule: Rule) => analyse(compileRule(rule, houseScopes, index), env);
    expect(told(all(asked)).never).toBe(false);
    expect(told(all(asked, none(again))).never).toBe(true);
    expect(told(any(asked, none(again))).always).toBe(true);
  });
});

describe('rules by name', () => {
  const kept = (id: string, rule: Group, name = id): NamedRule => ({ id, name, typeId: 'house', rule, version: 1 });
  const withRules = (...rules: NamedRule[]) => indexModel({ ...model, rules });

  it('are asked of the page’s record, and within a loop of the record it is at', () => {
    const known = withRules(kept('high', all(test('order.ge', 'height', 100))));
    const [low, tall] = [record(1, 'house', { height: 3 }), record(2, 'house', { height: 300 })];
    const env = { ...envOf([low, tall]), model: known };
    const named = all({ named: 'high' });
    expect(compileRule(named, houseScopes, known).holds(env)).toBe(false);
    const scope = { id: 'l', name: 'House', typeIds: ['house'], depth: 0 };
    const inside = compileRule(named, { ...houseScopes, loops: [scope] }, known);
    env.turns[0] = { record: tall, position: 1, results: 1 };
    expect(inside.holds(env)).toBe(true);
    expect(ruleWords(inside, env)).toBe('“high” holds');
    expect(explain(inside, env).parts[0]).toMatchObject({ named: 'high', holds: true });
  });

  it('that are gone, about another type, or come back to themselves hold nowhere, and say so', () => {
    const known = withRules(kept('a', all({ named: 'b' })), kept('b', any({ named: 'a' })), {
      ...kept('p', all()),
      typeId: 'person',
    });
    const env = { ...envOf([record(1, 'house')]), model: known };
    for (const [named, words] of [
      ['none', 'deleted'],
      ['p', 'about a person'],
      ['a', 'a → b → a'],
    ] as const) {
      const made = compileRule(none({ named }), houseScopes, known);
      expect(made.problems.map((p) => p.what).join()).toContain(words);
    }
    expect(compileRule({ named: 'a' }, houseScopes, known).holds(env)).toBe(false);
  });

  it('are refused where they would come back to themselves, or have the name of another', () => {
    const a = kept('a', all({ named: 'b' }));
    const b = kept('b', all(where('some', 'ways', 'w', { named: 'c' })));
    const c = kept('c', none(any({ named: 'a' })));
    expect(circleOf('a', [a, b, c])).toEqual(['a', 'b', 'c', 'a']);
    expect(parseNamedRule(c, [a, b]).ok).toBe(false);
    expect(parseNamedRule({ ...c, rule: all() }, [a, b]).ok).toBe(true);
    const twice = parseNamedRule({ ...c, name: 'A', rule: all() }, [a, b]);
    expect(!twice.ok && twice.problems[0]?.what).toContain('named “A” already');
  });
});

describe('limits', () => {
  const deep = (levels: number): Group => (levels === 1 ? all() : all(deep(levels - 1)));
  it('are told in words: 20 groups deep, 1,000 tests', () => {
    const said = (rule: unknown) => RuleSchema.safeParse(rule).error?.issues[0]?.message;
    expect(said(deep(20))).toBeUndefined();
    expect(said(deep(21))).toContain('20 groups deep at most');
    expect(said(deep(5000))).toContain('20 groups deep at most');
    const many = (n: number) => all(...Array.from({ length: n }, () => test('filled', 'name')));
    expect(said(many(1000))).toBeUndefined();
    expect(said(many(1001))).toContain('1000 tests at most');
    expect(said({ group: 'all', rules: [{ what: 'is this' }] })).toContain('no test');
    expect(said('x')).toBeDefined();
  });

  it('within them rules of any shape are compiled, asked and told without an error', () => {
    const house = record(1, 'house', { height: 5, open: true });
    const wild: fc.Arbitrary<Rule> = fc.letrec<{ rule: Rule }>((tie) => ({
      rule: fc.oneof(
        { depthSize: 'medium', withCrossShrink: true },
        fc.constantFrom<Rule>(
          test('order.ge', 'height', 3),
          test('order.ge', 'height', 'three'),
          test('choice.is', 'state', 'no such choice'),
          test('filled', 'deleted'),
          test('nonsense', 'name'),
          { named: 'deleted' },
          where('every', 'ways', 'w', of('w', 'filled', '@title')),
          where('some', 'deleted', 'w'),
        ),
        fc
          .tuple(
            fc.constantFrom('all' as const, 'any' as const, 'none' as const),
            fc.array(tie('rule'), { maxLength: 4 }),
          )
          .map(([group, rules]): Rule => ({ group, rules })),
      ),
    })).rule;
    fc.assert(
      fc.property(wild, (rule) => {
        const made = compileRule(rule, houseScopes, index);
        const env = envOf([house]);
        expect(typeof made.holds(env)).toBe('boolean');
        expect(explain(made, env).holds).toBe(made.holds(env));
        expect(ruleWords(made, env)).not.toBe('');
        analyse(made, env);
        changesFor(made, !made.holds(env), env);
      }),
      { numRuns: 300 },
    );
  });
});

describe('what would turn a rule round', () => {
  const steps = ['open', 'name', 'height', 'built'];
  const outcomes = fc.array(fc.boolean(), { minLength: steps.length, maxLength: steps.length });
  const tree: fc.Arbitrary<Rule> = fc.letrec<{ rule: Rule }>((tie) => ({
    rule: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      fc.constantFrom<Rule>(...steps.map((step) => test('filled', step))),
      fc
        .tuple(
          fc.constantFrom('all' as const, 'any' as const, 'none' as const),
          fc.array(tie('rule'), { minLength: 1, maxLength: 3 }),
        )
        .map(([group, rules]): Rule => ({ group, rules })),
    ),
  })).rule;

  it('is enough, and the least where every value is asked of once, as trying all sets of tests shows', () => {
    const full = { open: true, name: 'x', height: 1, built: '2026-01-01' } as Record<string, unknown>;
    const houseFor = (filled: boolean[]) =>
      record(1, 'house', Object.fromEntries(steps.flatMap((step, i) => (filled[i] ? [[step, full[step]]] : []))));
    fc.assert(
      fc.property(tree, outcomes, (rule, filled) => {
        const asked = testsOf(rule).map(({ path }) => path.steps[0] as string);
        fc.pre(new Set(asked).size === asked.length);
        const made = compileRule(rule, houseScopes, index);
        const at = (values: boolean[]) => made.holds(envOf([houseFor(values)]));
        const wanted = !at(filled);
        const changes = changesFor(made, wanted, envOf([houseFor(filled)]));
        // By brute force: the fewest fields to fill or empty.
        let fewest = Infinity;
        for (let bits = 0; bits < 1 << steps.length; bits++) {
          const other = filled.map((on, i) => on !== Boolean(bits & (1 << i)));
          if (at(other) === wanted)
            fewest = Math.min(fewest, [...bits.toString(2)].filter((bit) => bit === '1').length);
        }
        expect(changes?.length ?? Infinity).toBe(fewest);
        if (!changes) return;
        const turned = new Set(changes.map((change) => change.rule.test?.path.path.steps[0]));
        expect(at(filled.map((on, i) => on !== turned.has(steps[i])))).toBe(wanted);
      }),
      { numRuns: 400 },
    );
  });
});

describe('moving the parts of a rule', () => {
  const [a, b, c] = ['name', 'height', 'open'].map((step) => test('filled', step)) as [Test, Test, Test];
  const rule = all(a, any(b, c));

  it('goes before, after, into groups and out of them, and makes a group of two', () => {
    expect(movePart(rule, [1, 0], [0], 'before')).toEqual(all(b, a, any(c)));
    expect(movePart(rule, [0], [1], 'after')).toEqual(all(any(b, c), a));
    expect(movePart(rule, [0], [1], 'onto')).toEqual(all(any(b, c, a)));
    expect(movePart(rule, [0], [1, 0], 'before')).toEqual(all(any(a, b, c)));
    expect(movePart(all(a, b, c), [2], [0], 'onto')).toEqual(all(any(a, c), b));
    expect(movePart(rule, [1, 1], [], 'onto')).toEqual(all(a, any(b), c));
    expect(movePart(where('some', 'ways', 'w', b) as Rule, [0, 0], [0], 'onto')).toEqual(where('some', 'ways', 'w', b));
  });

  it('keeps every test, and refuses to put a group into itself', () => {
    expect(movePart(rule, [1], [1, 0], 'before')).toBeUndefined();
    expect(movePart(rule, [], [0], 'before')).toBeUndefined();
    expect(movePart(rule, [5], [0], 'before')).toBeUndefined();
    const place = fc.array(fc.integer({ min: 0, max: 2 }), { maxLength: 2 });
    fc.assert(
      fc.property(
        place,
        place,
        fc.constantFrom('before' as const, 'after' as const, 'onto' as const),
        (from, to, drop) => {
          const moved = movePart(rule, from, to, drop);
          if (moved)
            expect(
              testsOf(moved)
                .map((one) => one.path.steps[0])
                .sort(),
            ).toEqual(['height', 'name', 'open']);
        },
      ),
    );
    expect(withPart(rule, [1, 0], undefined)).toEqual(all(a, any(c)));
    expect(partAt(rule, [1, 1])).toBe(c);
  });
});
