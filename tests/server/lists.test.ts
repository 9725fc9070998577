import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ContentRecord } from '../../src/lib/core/content/record';
import { compileLoop, LoopSettingsSchema } from '../../src/lib/core/loops/loop';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { makeEnv, type Pool } from '../../src/lib/core/paths/env';
import type { Group, Rule } from '../../src/lib/core/rules/rule';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { run, select } from '../../src/lib/server/database/connect';
import { loadRecords } from '../../src/lib/server/queries/load';
import { batchPool, drawComplete } from '../../src/lib/server/queries/pool';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { createTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase, statementsOf } from '../support/database';
import { saveModel } from '../support/fill';

let drop: () => Promise<void>;
let all: ContentRecord[] = [];
const NAMES = ['ash', 'Ash', 'äsh', 'birch', '50% off', 'a_b', '', 'oak tree', 'ωμέγα', '霧'];

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  const people = [];
  for (let i = 0; i < 4; i++)
    people.push(
      (
        await createRecord('person', {
          title: `Person ${i}`,
          status: i ? 'published' : 'draft',
          values: { age: i * 10 },
        })
      ).id,
    );
  const ways = [];
  for (let i = 0; i < 6; i++)
    ways.push(
      (await createRecord('way', { title: `Way ${i}`, status: i === 5 ? 'draft' : 'published', values: { km: i } })).id,
    );
  for (let i = 0; i < 40; i++)
    await createRecord('house', {
      title: `House ${(i * 7) % 13}`,
      status: i % 9 === 4 ? 'draft' : 'published',
      terms: [[], ['north'], ['hill'], ['peak', 'south'], ['south']][i % 5],
      values: {
        name: NAMES[i % NAMES.length],
        height: i % 4 === 3 ? null : [0, -5, 12, 12, 7][i % 5],
        open: [true, false, null][i % 3],
        built: i % 6 === 0 ? null : `20${10 + (i % 9)}-0${1 + (i % 9)}-15`,
        state: ['good', 'fair', 'poor', null][i % 4],
        keeper: i % 3 ? [people[i % 4]] : [],
        ways: ways.filter((_, n) => (i >> n) % 2 === 1),
      },
    });
  const ids = await select<{ id: number }>('SELECT id FROM records ORDER BY id');
  all = await loadRecords(
    await readModel(),
    ids.map((row) => row.id),
    { drafts: true },
  );
});
afterAll(() => drop());

const at = (...steps: string[]) => ({ from: 'loop:l', steps });
const ids = (type: string) => all.filter((r) => r.typeId === type).map((r) => r.id);

describe('the same list everywhere', () => {
  // Generated filters over every family of values; nothing is known of the records but their shape.
  const test = (name: string, steps: string[], operand?: unknown): Rule => ({
    test: name,
    path: at(...steps),
    ...(operand === undefined ? {} : { operand }),
  });
  const text = fc.constantFrom('ash', 'ÄSH', 'sh', '%', '_', 'oak', '霧', 'é');
  const leaf: fc.Arbitrary<() => Rule> = fc.oneof(
    fc
      .tuple(
        fc.constantFrom('is', 'isnt', 'contains', 'lacks', 'starts', 'ends'),
        text,
        fc.constantFrom('name', '@title'),
      )
      .map(
        ([op, word, step]) =>
          () =>
            test(`text.${op}`, [step], word),
      ),
    fc.tuple(fc.constantFrom('eq', 'ne', 'lt', 'le', 'gt', 'ge'), fc.constantFrom(-5, 0, 7, 12)).map(
      ([op, n]) =>
        () =>
          test(`order.${op}`, ['height'], n),
    ),
    fc
      .tuple(fc.integer({ min: -6, max: 13 }), fc.integer({ min: -6, max: 13 }))
      .map((range) => () => test('order.between', ['height'], range)),
    fc.constantFrom('2012-03-15', '2016-07-15').map((day) => () => test('order.ge', ['built'], day)),
    fc.constantFrom('past', 'future').map((op) => () => test(`day.${op}`, ['built'])),
    fc.constantFrom('yesno.yes', 'yesno.no').map((op) => () => test(op, ['open'])),
    fc.tuple(fc.constantFrom('choice.is', 'choice.isnt'), fc.constantFrom('good', 'poor')).map(
      ([op, key]) =>
        () =>
          test(op, ['state'], key),
    ),
    fc
      .tuple(
        fc.constantFrom('terms.any', 'terms.below', 'terms.none', 'terms.nonebelow', 'terms.all'),
        fc.uniqueArray(fc.constantFrom('north', 'hill', 'peak', 'south'), { minLength: 1 }),
      )
      .map(
        ([op, terms]) =>
          () =>
            test(op, ['@terms:area'], terms),
      ),
    fc.tuple(fc.constantFrom('any', 'all', 'none'), fc.uniqueArray(fc.nat(5), { minLength: 1, maxLength: 3 })).map(
      ([op, at]) =>
        () =>
          test(
            `relation.${op}`,
            ['ways'],
            at.map((i) => ids('way')[i]),
          ),
    ),
    fc.tuple(fc.constantFrom('any', 'none'), fc.nat(3)).map(
      ([op, i]) =>
        () =>
          test(`relation.${op}`, ['keeper'], [ids('person')[i]]),
    ),
    fc
      .tuple(
        fc.constantFrom('filled', 'empty'),
        fc.constantFrom('name', 'height', 'open', 'built', 'state', 'keeper', 'ways', '@terms:area'),
      )
      .map(
        ([op, step]) =>
          () =>
            test(op, [step]),
      ),
    // These are beyond an index, and are left for memory.
    fc.nat(4).map((n) => () => test('count.ge', ['ways'], n)),
    fc.constantFrom(10, 20).map((n) => () => test('order.ge', ['keeper', 'age'], n)),
  );
  const { group } = fc.letrec<{ group: () => Rule }>((tie) => ({
    group: fc.oneof(
      { depthSize: 'small' },
      leaf,
      fc
        .tuple(fc.constantFrom<Group['group']>('all', 'any', 'none'), fc.array(tie('group'), { maxLength: 3 }))
        .map(([kind, parts]) => (): Rule => ({ group: kind, rules: parts.map((part) => part()) })),
    ),
  }));
  const own = ['name', 'height', 'open', 'built', 'state', '@title', '@created'].map((s) => ({ steps: [s] }));
  // Values of related records and counts are beyond an index as well.
  const related = [
    { steps: ['keeper', 'age'] },
    { steps: ['keeper', '@title'] },
    { steps: ['ways'], take: 'count' as const },
    { steps: ['ways', 'km'], take: 'largest' as const },
    { steps: ['ways', '@title'], take: 'first' as const },
  ];
  const order = fc.array(
    fc
      .tuple(fc.oneof({ weight: 3, arbitrary: fc.constantFrom(...own) }, fc.constantFrom(...related)), fc.boolean())
      .map(([key, down]) => ({ ...key, down })),
    { maxLength: 3 },
  );
  const settings = fc.record({
    rule: group,
    order,
    skip: fc.nat(3),
    limit: fc.option(fc.integer({ min: 1, max: 30 }), { nil: undefined }),
    perPage: fc.option(fc.integer({ min: 1, max: 9 }), { nil: undefined }),
    page: fc.integer({ min: 1, max: 4 }),
    /** The archive’s own list, a query over one type, or over several. */
    over: fc.constantFrom('archive', 'one', 'several'),
    leaveOut: fc.record({ current: fc.boolean(), above: fc.boolean() }),
    current: fc.nat(30),
    above: fc.uniqueArray(fc.nat(45), { maxLength: 5 }),
  });

  it('in memory and from the database', async () => {
    const index = await readModel();
    const archive = (page: number) => ({ type: index.type('house')!, page });
    const memory = memoryPool(all, [], false);
    await fc.assert(
      fc.asyncProperty(settings, async ({ rule, page, over, current, above, ...rest }) => {
        const parsed = LoopSettingsSchema.parse({
          ...rest,
          source:
            over === 'archive'
              ? { from: 'archive' }
              : { from: 'query', typeIds: over === 'one' ? ['house'] : ['house', 'way'] },
          filter: { group: 'all', rules: [rule()] },
        });
        const loop = compileLoop('l', 'House', parsed, { archiveTypeId: 'house', loops: [] }, index);
        expect(loop.problems).toEqual([]);
        const ask = (pool: Pool) =>
          pool.list(loop, {
            ...makeEnv({
              model: index,
              pool,
              today: '2026-06-15',
              archive: archive(page),
              record: all[current],
              asked: { 'house-page': String(page) },
            }),
            shown: new Set(above.flatMap((at) => all[at]?.id ?? [])),
          });
        const batch = batchPool(index, { drafts: false });
        let fromDatabase = ask(memory);
        await drawComplete(batch, () => {
          fromDatabase = ask(batch.pool);
          return '';
        });
        const shape = (list: typeof fromDatabase) => ({
          ids: list.items.map((r) => r.id),
          total: list.total,
          page: list.page,
          pages: list.pages,
        });
        expect(shape(fromDatabase), JSON.stringify(parsed.filter)).toEqual(shape(ask(memory)));
      }),
      { numRuns: 2000 },
    );
  }, 240_000);
});

describe('what a page costs', () => {
  const item = (loop: string): Nested[] => [
    {
      kind: 'heading',
      slots: { text: boundTo(`loop:${loop}`, ['@title']), link: boundTo(`loop:${loop}`, ['@address']) },
    },
    { kind: 'text', slots: { text: boundTo(`loop:${loop}`, ['keeper', '@title']) } },
    {
      kind: 'loop',
      id: `${loop}-ways`,
      props: { source: { from: 'relation', path: { from: `loop:${loop}`, steps: ['ways'] } } },
      children: [
        { kind: 'text', slots: { text: boundTo(`loop:${loop}-ways`, ['km']) } },
        {
          kind: 'loop',
          id: `${loop}-near`,
          // A query that depends on the item around it: still one statement for all turns.
          props: {
            source: { from: 'query', typeIds: ['house'] },
            filter: {
              group: 'all',
              rules: [
                {
                  test: 'order.gt',
                  path: { from: `loop:${loop}-near`, steps: ['height'] },
                  other: { from: `loop:${loop}-ways`, steps: ['km'] },
                },
              ],
            },
            limit: 2,
            order: [{ steps: ['height'], down: false }],
          },
          children: [{ kind: 'text', slots: { text: boundTo(`loop:${loop}-near`, ['@title']) } }],
        },
      ],
    },
  ];

  it('is a number of statements that items do not change, over three levels of loops', async () => {
    const count = async (perPage: number) => {
      const tree = treeFrom({
        kind: 'loop',
        id: 'houses',
        props: { source: { from: 'archive' }, perPage },
        children: item('houses'),
      });
      const template = await createTemplate({
        id: `cost-${perPage}`,
        name: 'Cost',
        purpose: 'archive',
        typeId: 'house',
        tree,
      });
      // The newest one stands first, and so answers.
      await run('UPDATE templates SET `order` = ? WHERE id = ?', [-perPage, template.id]);
      let html = '';
      const statements = await statementsOf(async () => {
        html = (await answer('/houses/', { styles: [], origin: 'http://a.example' })).html;
      });
      expect(html.match(/<h2>/g)).toHaveLength(perPage);
      return statements.length;
    };
    await answer('/houses/', { styles: [], origin: 'http://a.example' });
    const few = await count(2);
    const many = await count(30);
    expect(many).toBeLessThanOrEqual(few);
    expect(many).toBeLessThan(45);
  });
});
