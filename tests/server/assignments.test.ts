import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { localDay } from '../../src/lib/core/base/write';
import { indexModel } from '../../src/lib/core/model/model';
import { makeEnv } from '../../src/lib/core/paths/env';
import { compileRule } from '../../src/lib/core/rules/compile';
import type { Group, Rule } from '../../src/lib/core/schema/rule';
import type { Target } from '../../src/lib/core/schema/target';
import type { Template } from '../../src/lib/core/schema/template';
import { contenders } from '../../src/lib/core/serving/resolution';
import { blankTree } from '../../src/lib/core/templates/build';
import { select } from '../../src/lib/server/database/connect';
import { loadRecords } from '../../src/lib/server/queries/load';
import { batchPool, drawComplete } from '../../src/lib/server/queries/pool';
import { plainModel, readModel } from '../../src/lib/server/services/model';
import { saveContentType } from '../../src/lib/server/services/types';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { siteDesign } from '../../src/lib/server/site/design';
import { ruleMatches } from '../../src/lib/server/site/rule-matches';
import {
  countsOf,
  differingRows,
  pageRows,
  assignmentsAmong,
  templateAssignments,
} from '../../src/lib/server/site/assignments';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { FIELDS, group } from '../support/rules';
import { saveAuthor } from '../support/services';

/** What the contest for one page comes to is the reference for what columns say of all of them. */
let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await saveAuthor({ name: 'Ada Fell' });
  await saveAuthor({ name: 'Bo Beck' });
  const keepers = await Promise.all(
    [20, 50].map((age) => createRecord('person', { title: `Keeper ${age}`, status: 'published', values: { age } })),
  );
  const pick = <T>(list: readonly T[], n: number): T => list[n % list.length] as T;
  for (let i = 0; i < 60; i++) {
    const values = Object.fromEntries(
      Object.entries(FIELDS).flatMap(([name, { values: own }], at) => {
        const value = pick(own, Math.imul(i + 1, 31 + at * 7) >>> 3);
        return name.startsWith('@') || value === undefined ? [] : [[name, value]];
      }),
    );
    await createRecord('house', {
      title: `House ${i}`,
      status: i % 7 ? 'published' : 'draft',
      terms: pick(FIELDS['@terms:area']!.values as string[][], i),
      authorId: pick([null, 1, 2], i),
      values: { ...values, ...(i % 3 ? { keeper: [keepers[i % 2]!.id] } : {}) },
    });
  }
  for (const title of ['Way one', 'Way two'])
    await createRecord('way', { title, status: 'published', terms: ['hill'], values: {} });
});
afterAll(() => drop());

const record = (...steps: string[]) => ({ from: 'record', steps });
/** Tests that columns answer, and some that are asked of each record. */
const tests: fc.Arbitrary<Rule> = fc.oneof(
  ...Object.values(FIELDS).map(({ tests }) => tests),
  fc.constantFrom<Rule>(
    { test: 'order.gt', path: record('keeper', 'age'), operand: 30 },
    { test: 'filled', path: record('keeper', '@terms:area') },
    { test: 'text.contains', path: record('keeper', 'keeps', '@title'), operand: '4' },
  ),
);
const types = fc.constantFrom(undefined, 'house', 'way', 'person');
const terms = fc.constantFrom('north', 'hill', 'peak', 'south');
const target: fc.Arbitrary<Target> = fc.oneof(
  fc.constant<Target>({ on: 'everything' }),
  fc.constantFrom('house', 'way', 'person').map((typeId): Target => ({ on: 'type', typeId })),
  fc.tuple(terms, types).map(([termId, typeId]): Target => ({ on: 'term', termId, ...(typeId && { typeId }) })),
  types.map((typeId): Target => ({ on: 'taxonomy', taxonomyId: 'area', ...(typeId && { typeId }) })),
  fc.tuple(fc.constantFrom(1, 2), types).map(([authorId, typeId]): Target => ({
    on: 'author',
    authorId,
    ...(typeId && { typeId }),
  })),
  fc.uniqueArray(fc.integer({ min: 1, max: 64 }), { maxLength: 6 }).map((ids): Target => ({
    on: 'records',
    typeId: 'house',
    ids,
  })),
  group(tests).map((rule): Target => ({ on: 'rule', typeId: 'house', rule: rule as Group })),
);
const templates: fc.Arbitrary<Template[]> = fc
  .array(fc.tuple(fc.array(target, { maxLength: 3 }), fc.array(target, { maxLength: 1 }), fc.nat(3)), {
    minLength: 1,
    maxLength: 6,
  })
  .map((list) =>
    list.map(([serves, except, order], i): Template => ({
      id: `t${i}`,
      name: `Template ${i}`,
      purpose: 'record',
      version: 1,
      tree: blankTree(),
      serves,
      except,
      order,
    })),
  );

/** What answers each published record by asking each of them. */
async function oneByOne(list: readonly Template[]): Promise<Map<number, { template?: string; tied: boolean }>> {
  const { model } = await siteDesign('draft');
  const ids = await select<{ id: number }>("SELECT id FROM records WHERE status = 'published'");
  const records = await loadRecords(
    model,
    ids.map(({ id }) => id),
    { drafts: false },
  );
  const out = new Map<number, { template?: string; tied: boolean }>();
  const batch = batchPool(model, { drafts: false });
  const today = localDay(new Date(), model.site.timeZone);
  const contest = contenders(list, 'record', model);
  await drawComplete(batch, () => {
    for (const own of records) {
      const { template, tied } = contest.standing({ record: own }, (one) =>
        makeEnv({ model, pool: batch.pool, today, record: one }),
      );
      out.set(own.id, { ...(template && { template: template.id }), tied });
    }
    return '';
  });
  return out;
}

describe('what answers all pages at once', () => {
  const runs = Number(process.env.PLUM_TEST_RUNS ?? 60);
  it('is what answers each of them, with the same counts, whatever templates serve', async () => {
    let [ruled, tiedOnes] = [0, 0];
    await fc.assert(
      fc.asyncProperty(templates, templates, async (list, later) => {
        const design = await siteDesign('draft');
        const site = await assignmentsAmong(design, list);
        const { rows, found } = await pageRows(site, { offset: 0, count: 1000 });
        expect(found).toBe(rows.length);
        const asked = await oneByOne(list);
        const told = new Map(
          rows.flatMap(({ id, template, tied }) => (id ? [[id, { ...(template && { template }), tied }]] : [])) as [
            number,
            { template?: string; tied: boolean },
          ][],
        );
        expect(told).toEqual(asked);
        ruled += JSON.stringify(list).includes('"rule"') ? 1 : 0;
        tiedOnes += [...asked.values()].filter(({ tied }) => tied).length;
        const counts = countsOf(site);
        expect(counts).toEqual({
          all: rows.length,
          unserved: rows.filter(({ template }) => !template).length,
          tied: rows.filter(({ tied }) => tied).length,
        });
        for (const show of ['unserved', 'tied', ...list.map(({ id }) => id)]) {
          const wanted = rows.filter(
            ({ template, tied }) =>
              template === show || (show === 'unserved' && !template) || (show === 'tied' && tied),
          );
          // Read in pieces, as pages of the screen are.
          const pieces = [];
          for (let offset = 0; offset < wanted.length + 1; offset += 17)
            pieces.push(...(await pageRows(site, { show, offset, count: 17 })).rows);
          expect(pieces).toEqual(wanted);
        }
        const standing = templateAssignments({ ...site, design: { ...design, templates: list } });
        for (const { id, pages } of standing) expect(pages).toBe(rows.filter(({ template }) => template === id).length);
        const next = await assignmentsAmong(design, later);
        const then = await oneByOne(later);
        const differing = next.types.flatMap(({ assignments }, i) => {
          const before = site.types[i]!.assignments;
          return differingRows(before, assignments)
            .array()
            .map((row) => assignments.table.ids[row]);
        });
        expect(new Set(differing)).toEqual(
          new Set([...then].flatMap(([id, { template }]) => (template === asked.get(id)?.template ? [] : [id]))),
        );
      }),
      { numRuns: runs },
    );
    expect([ruled > runs / 10, tiedOnes > 0]).toEqual([true, true]);
  });

  it('is told of kept rules: of all published records, those for which a rule holds', async () => {
    const plain = await plainModel();
    const held = { some: 0, none: 0 };
    await fc.assert(
      fc.asyncProperty(group(tests), async (rule) => {
        const kept = { id: 'kept', name: 'Kept', version: 1, typeId: 'house', rule: rule as Group };
        const broken = { ...kept, id: 'broken', rule: { test: 'filled', path: record('gone') } as Rule as Group };
        const model = indexModel({ ...plain, rules: [kept, broken, { ...kept, id: 'lost', typeId: 'gone' }] });
        const ids = await select<{ id: number }>(
          "SELECT id FROM records WHERE status = 'published' AND type_id = 'house'",
        );
        const records = await loadRecords(
          model,
          ids.map(({ id }) => id),
          { drafts: false },
        );
        const batch = batchPool(model, { drafts: false });
        const today = localDay(new Date(), model.site.timeZone);
        const made = compileRule(rule, { recordTypeIds: ['house'], loops: [] }, model);
        let holds = 0;
        await drawComplete(batch, () => {
          // What has a problem shows nothing on pages.
          const asked = made.problems.length ? [] : records;
          holds = asked.filter((one) => made.holds(makeEnv({ model, pool: batch.pool, today, record: one }))).length;
          return '';
        });
        held[holds && holds < records.length ? 'some' : 'none']++;
        expect(await ruleMatches(model)).toEqual({
          kept: { holds, of: records.length },
          broken: { holds: 0, of: records.length },
          lost: { holds: 0, of: 0 },
        });
      }),
      { numRuns: runs },
    );
    // About half of them tell records apart; no chance leads to fewer than this.
    expect(held.some).toBeGreaterThan(runs / 8);
  });

  it('follows what is written at once', async () => {
    const design = await siteDesign('draft');
    const list: Template[] = [
      {
        id: 'high',
        name: 'High',
        purpose: 'record',
        version: 1,
        tree: blankTree(),
        order: 0,
        serves: [
          {
            on: 'rule',
            typeId: 'house',
            rule: { group: 'all', rules: [{ test: 'order.gt', path: record('height'), operand: 900 }] },
          },
        ],
      },
    ];
    const high = async () =>
      (await pageRows(await assignmentsAmong(design, list), { show: 'high', offset: 0, count: 9 })).rows.map(
        ({ title }) => title,
      );
    expect(await high()).toEqual([]);
    const made = await createRecord('house', { title: 'Top', status: 'published', values: { height: 1000 } });
    expect(await high()).toEqual(['Top']);
    await changeRecord(made.id, { title: 'Summit' });
    expect(await high()).toEqual(['Summit']);
    await deleteRecords([made.id]);
    expect(await high()).toEqual([]);
  });

  it('finds pages by parts of titles and addresses', async () => {
    const site = await assignmentsAmong(await siteDesign('draft'), []);
    const find = async (search: string) =>
      (await pageRows(site, { search, offset: 0, count: 100 })).rows.map(({ address }) => address);
    expect(await find('WAY ONE')).toEqual(['/ways/way-one']);
    expect(await find('/ways/way-t')).toEqual(['/ways/way-two']);
    expect(await find('/houses/way-t')).toEqual([]);
    expect(await find('keeper-5')).toEqual(['/people/keeper-50']);
    expect(await find('/ways/')).toEqual(expect.arrayContaining(['/ways/', '/ways/way-one', '/ways/way-two']));
    // The same as looking at each title and address, whatever the pattern of addresses.
    const type = (await readModel()).type('way')!;
    await saveContentType({ ...type, address: '/paths/{year}/{slug}' });
    const design = await siteDesign('draft');
    const all = (await pageRows(await assignmentsAmong(design, []), { offset: 0, count: 1000 })).rows;
    const pattern = await assignmentsAmong(design, []);
    for (const words of [
      '/paths/2',
      '/paths/',
      '2026/way',
      'way',
      'ways',
      'houses/house-1',
      'HOUSES',
      '/people/keeper',
      'e',
      '/',
    ]) {
      const { rows } = await pageRows(pattern, { search: words, offset: 0, count: 1000 });
      const low = words.toLowerCase();
      const wanted = all.filter(
        ({ title, address }) => title.toLowerCase().includes(low) || decodeURIComponent(address).includes(low),
      );
      expect(rows.map(({ address }) => address)).toEqual(wanted.map(({ address }) => address));
    }
    expect(await find('nothing of the sort')).toEqual([]);
  });
});
