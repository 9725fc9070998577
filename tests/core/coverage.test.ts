import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  combinationsOf,
  coverageOf,
  coverageSteps,
  sectionsOf,
  smallestLook,
} from '../../src/lib/core/coverage/coverage';
import { ofRecords } from '../../src/lib/core/coverage/subjects';
import { columnsFor } from '../../src/lib/core/loops/columns';
import { compileRule } from '../../src/lib/core/rules/compile';
import { compileTree } from '../../src/lib/core/render/compile';
import type { Group, Rule } from '../../src/lib/core/schema/rule';
import { treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { combinationsThatCan, wantedFor } from '../../src/lib/core/coverage/witnesses';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { supposing } from '../../src/lib/core/content/suppose';
import { witnessFor } from '../../src/lib/core/rules/witness';
import { everyRecord } from '../support/rules';
import { envOf, houseScopes, index, own, record } from '../support/world';

const all = (...rules: Rule[]): Group => ({ group: 'all', rules });
const is = (key: string): Rule => ({ test: 'choice.is', path: own('state'), operand: key });
const open: Rule = { test: 'yesno.yes', path: own('open') };
const words = (id: string, text: string, rule?: Group): Nested => ({
  kind: 'text',
  id,
  slots: { text: { fixed: text } },
  rule,
});

const page: Nested = {
  kind: 'box',
  children: [
    words('badge', 'BADGE', all(open)),
    {
      kind: 'box',
      id: 'notice',
      rule: all(is('poor')),
      children: [words('inner', 'INNER', all(open)), words('plain', 'PLAIN')],
    },
    {
      kind: 'alternatives',
      id: 'layouts',
      children: [words('wide', 'WIDE', all(is('good'))), words('side', 'SIDE', all(open)), words('rest', 'REST')],
    },
    {
      kind: 'loop',
      id: 'loop',
      props: { source: { from: 'query', typeIds: ['house'] } },
      children: [words('each', 'EACH', all(open))],
    },
  ],
};
const houses = [
  record(1, 'house', { open: true, state: 'good' }),
  record(2, 'house', { open: false, state: 'poor' }),
  record(3, 'house', { open: true, state: 'poor' }),
  record(4, 'house', {}),
  record(5, 'house', { open: true, state: 'good' }),
];
const tree = treeFrom(page);
const made = compileTree(tree, houseScopes, index, { marked: true });

describe('coverage', () => {
  it('knows the sections of a page: what has a rule, and branches, those within loops as such', () => {
    expect(
      sectionsOf(tree, made.elements).map(({ id, within, branchOf, inTurns }) => [id, within, branchOf ?? inTurns]),
    ).toEqual([
      ['badge', [], undefined],
      ['notice', [], undefined],
      ['inner', ['notice'], undefined],
      ['wide', [], 'layouts'],
      ['side', [], 'layouts'],
      ['rest', [], 'layouts'],
      ['each', [], true],
    ]);
  });

  it('is what the drawn pages show', () => {
    const coverage = coverageOf(tree, made, ofRecords(houses), envOf(houses));
    for (const [i, { id }] of coverage.sections.entries())
      for (const [at, house] of houses.entries()) {
        const html = made.draw({ ...envOf(houses), record: house });
        expect([id, house.id, Boolean(coverage.shown[i]![at])]).toEqual([
          id,
          house.id,
          html.includes(id === 'notice' ? 'PLAIN' : id.toUpperCase()),
        ]);
      }
    expect(coverage.totals).toEqual([3, 2, 1, 2, 1, 2, 3]);
    // On the pages of three open houses, in each of five turns.
    expect(coverage.turns.at(-1)).toEqual({ drawn: 15, of: 25 });
  });

  it('counts the combinations that occur, each with a record to look at', () => {
    const combinations = combinationsOf(coverageOf(tree, made, ofRecords(houses), envOf(houses)));
    expect(combinations.map(({ count, id }) => [count, id])).toEqual([
      [2, 1],
      [1, 2],
      [1, 3],
      [1, 4],
    ]);
  });

  it('stops where it is told to', () => {
    const many = Array.from({ length: 5000 }, (_, i) => record(i + 1, 'house', { open: i % 2 === 0 }));
    const env = envOf(many);
    const before = env.record;
    // Where rules alone decide, a thousand at once are asked.
    const ruled = treeFrom({ ...page, children: page.children?.slice(0, -1) });
    const steps = coverageSteps(ruled, compileTree(ruled, houseScopes, index, { marked: true }), ofRecords(many), env);
    expect([steps.next(), steps.next()].map(({ value }) => value)).toEqual([1000, 2000]);
    // Left there, the environment is as it was.
    expect(env.record).toBe(before);
  });

  it('asks a column of records what it asks each of them', () => {
    const values = fc.record({
      height: fc.option(fc.integer({ min: 0, max: 4 }), { nil: undefined }),
      open: fc.option(fc.boolean(), { nil: undefined }),
      state: fc.option(fc.constantFrom('good', 'fair', 'poor'), { nil: undefined }),
      name: fc.option(fc.constantFrom('One', 'two', ' '), { nil: undefined }),
      ways: fc.subarray([90, 91]),
    });
    const ask = (name: string, step: string, operand?: unknown): Rule => ({
      test: name,
      path: own(step),
      ...(operand === undefined ? {} : { operand }),
    });
    const some: Rule = {
      rows: 'some',
      path: own('ways'),
      as: 'w',
      where: all({ test: 'text.is', path: { from: 'loop:w', steps: ['@title'] }, operand: 'x' }),
    };
    const rule: fc.Arbitrary<Rule> = fc.letrec<{ rule: Rule }>((tie) => ({
      rule: fc.oneof(
        { depthSize: 'small', withCrossShrink: true },
        fc.constantFrom<Rule>(
          ...[
            ask('order.ge', 'height', 2),
            ask('order.ne', 'height', 2),
            ask('empty', 'name'),
            ask('filled', 'deleted'),
          ],
          ...[ask('yesno.no', 'open'), ask('choice.isnt', 'state', 'good'), ask('text.contains', 'name', 'O')],
          ...[ask('count.le', 'ways', 1), ask('relation.none', 'ways', [90]), some],
          { test: 'order.lt', path: own('height'), other: own('stars') },
        ),
        fc
          .tuple(fc.constantFrom<Group['group']>('all', 'any', 'none'), fc.array(tie('rule'), { maxLength: 3 }))
          .map(([group, rules]): Rule => ({ group, rules })),
      ),
    })).rule;
    fc.assert(
      fc.property(fc.array(values, { maxLength: 6 }), rule, (list, asked) => {
        const houses = list.map((one, i) => record(i + 1, 'house', one));
        const env = envOf([...houses, record(90, 'way', {}, { title: 'X' }), record(91, 'way')]);
        const made = compileRule(asked, houseScopes, index);
        const each = houses.map((house) => (!made.problems.length && made.holds({ ...env, record: house }) ? 1 : 0));
        expect([...columnsFor(houses, env)(made)]).toEqual(each);
      }),
      { numRuns: 500 },
    );
  });

  it('finds the smallest set of records that shows everything shown and hidden, as trying all sets does', () => {
    const grid = fc
      .integer({ min: 1, max: 5 })
      .chain((sections) =>
        fc.array(fc.array(fc.boolean(), { minLength: sections, maxLength: sections }), { minLength: 1, maxLength: 9 }),
      );
    fc.assert(
      fc.property(grid, (rows) => {
        const count = rows[0]!.length;
        const shown = Array.from({ length: count }, (_, i) => Uint8Array.from(rows.map((row) => Number(row[i]))));
        const records = rows.map((_, at) => at + 1);
        /** What a choice of records shows, and hides. */
        const seen = (ids: number[]) => new Set(ids.flatMap((id) => rows[id - 1]!.map((on, i) => `${i} ${on}`)));
        const everything = seen(records).size;
        const look = smallestLook({ ids: records, shown });
        expect(seen(look).size).toBe(everything);
        let fewest = records.length;
        for (let bits = 0; bits < 1 << records.length; bits++) {
          const chosen = records.filter((_, at) => bits & (1 << at));
          if (chosen.length < fewest && seen(chosen).size === everything) fewest = chosen.length;
        }
        expect(look.length).toBe(fewest);
      }),
      { numRuns: 300 },
    );
  });

  it('stays within the known bound of the greedy way, and sees everything, where there is too much to try', () => {
    const grid = fc.tuple(fc.integer({ min: 1, max: 8 }), fc.integer({ min: 2, max: 20 })).chain(([sections, count]) =>
      fc.array(fc.array(fc.nat(1), { minLength: count, maxLength: count }), {
        minLength: sections,
        maxLength: sections,
      }),
    );
    fc.assert(
      fc.property(grid, (rows) => {
        const shown = rows.map((row) => Uint8Array.from(row));
        const records = rows[0]!.map((_, at) => at);
        const [best, greedy] = [smallestLook({ ids: records, shown }), smallestLook({ ids: records, shown }, 0)];
        for (const row of shown) expect(new Set(greedy.map((at) => row[at]))).toEqual(new Set(row));
        // Chvátal 1979: no more than the fewest times the harmonic number of what there is to see, which 1 + ln bounds.
        expect(greedy.length).toBeLessThanOrEqual(best.length * (1 + Math.log(2 * rows.length)));
      }),
      { numRuns: 200 },
    );
  });
});

describe('witnesses', () => {
  const every = everyRecord(['open', 'state']);
  const among = (records: typeof every) => ({
    model: index,
    records,
    typeIds: ['house'],
    pool: memoryPool(records, []),
    media: [],
    today: envOf([]).today,
  });

  it('of every combination that can occur are those that all values come to, each with its own page', () => {
    const { sections, combinations, more } = combinationsThatCan(tree, made.elements, envOf([]));
    expect(more).toBe(false);
    const counted = coverageOf(tree, made, ofRecords(every), envOf(every));
    const places = sections.map(({ id }) => counted.sections.findIndex((one) => one.id === id));
    const occur = new Set(every.map((_, at) => places.map((place) => counted.shown[place]![at]).join('')));
    expect(new Set(combinations.map(({ pattern }) => pattern))).toEqual(occur);
    for (const { pattern, wanted } of combinations) {
      const found = witnessFor(wanted, among(houses.slice(0, 2)));
      expect(found.is === 'there' || found.is === 'made').toBe(true);
      if (found.is !== 'there' && found.is !== 'made') continue;
      const records = supposing(
        houses.slice(0, 2),
        found.is === 'made' ? found.supposed : new Map(),
        index,
        found.record,
      );
      const own = records.filter(({ id }) => id === found.record.id);
      const page = coverageOf(tree, made, ofRecords(own), envOf(records));
      expect(places.map((place) => page.shown[place]![0]).join('')).toBe(pattern);
    }
  });

  it('of one element are on whose page it is', () => {
    for (const id of ['badge', 'notice', 'inner', 'wide', 'side', 'rest']) {
      const wanted = wantedFor(tree, made.elements, id);
      if (typeof wanted === 'string') throw new Error(wanted);
      const found = witnessFor(wanted, among([]));
      if (found.is !== 'made') throw new Error(`${id}: ${found.is}`);
      const records = supposing([], found.supposed, index, found.record);
      const page = coverageOf(tree, made, ofRecords(records), envOf(records));
      expect([id, page.shown[page.sections.findIndex((one) => one.id === id)]![0]]).toEqual([id, 1]);
    }
    expect(wantedFor(tree, made.elements, 'each')).toBe('turns');
  });
});
