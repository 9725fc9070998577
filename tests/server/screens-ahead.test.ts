import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { clearColumns } from '../../src/lib/server/queries/tables';
import { createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { recordTable } from '../../src/lib/server/services/lists';
import { createTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { siteDesign } from '../../src/lib/server/site/design';
import { prewarmLists } from '../../src/lib/server/site/prewarm-lists';
import { siteAssignments } from '../../src/lib/server/site/assignments';
import { deferred } from '../../src/lib/server/base/deferred';
import { freshDatabase, statementsOf } from '../support/database';
import { saveModel } from '../support/fill';

describe('what screens open with', () => {
  let drop: () => Promise<void>;
  const serving = (name: string, test: string, operand: number) =>
    createTemplate({
      name,
      purpose: 'record',
      typeId: 'house',
      serves: [
        {
          on: 'rule',
          typeId: 'house',
          rule: { group: 'all', rules: [{ test, path: { from: 'record', steps: ['height'] }, operand }] },
        },
      ],
      tree: treeFrom({ kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } }),
    });
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
    for (let n = 0; n < 20; n++)
      await createRecord('house', { title: `House ${n}`, status: 'published', values: { height: n * 100 } });
    await serving('High', 'order.ge', 1000);
    await release();
  });
  afterAll(() => drop());

  /** Statements that read a column of a type from its beginning. */
  const filling = (statements: string[]) =>
    statements.filter((sql) => /type_id = .* (?:id|part\)?) > 0|ORDER BY (?:sort|title)/.test(sql));
  const open = async () => {
    await siteAssignments(await siteDesign('released'));
    await siteAssignments(await siteDesign('draft'));
    for (const typeId of ['house', 'way']) await recordTable(typeId);
  };

  it('is laid out before anybody opens them, for the released design and for the one being worked on', async () => {
    clearColumns();
    expect(filling(await statementsOf(open)).length).toBeGreaterThan(3);
    clearColumns();
    await prewarmLists();
    expect(filling(await statementsOf(open))).toEqual([]);
    // Nothing is done again that was done.
    expect(filling(await statementsOf(prewarmLists))).toEqual([]);
  });

  it('and so is what visitors search and put in order, with the search of the site', async () => {
    await createTemplate({
      name: 'Houses',
      purpose: 'archive',
      serves: [{ on: 'type', typeId: 'house' }],
      tree: treeFrom({
        kind: 'loop',
        id: 'list',
        props: {
          source: { from: 'archive' },
          perPage: 5,
          visitors: { search: ['@title', 'note'], sorts: [{ step: 'height', label: 'Height', down: true }] },
        },
        children: [{ kind: 'heading', slots: { text: boundTo('loop:list', ['@title']) } }],
      }),
    });
    await release();
    const visit = async () => {
      for (const [path, asked] of [
        ['/houses/', { q: ['house'] }],
        ['/houses/', { sort: ['height'] }],
        ['/search/', { q: ['house'] }],
      ] as const)
        expect((await answer(path, { base: '', origin: 'https://huts.example' }, asked)).status).toBe(200);
    };
    clearColumns();
    const reading = (statements: string[]) => statements.filter((sql) => /FROM record_words .* > 0/.test(sql));
    expect(reading(await statementsOf(visit)).length).toBeGreaterThan(1);
    clearColumns();
    await prewarmLists();
    const statements = await statementsOf(visit);
    expect([...reading(statements), ...filling(statements)]).toEqual([]);
  });

  it('asks no record before one is opened: rules that columns cannot answer wait for that', async () => {
    const far = { test: 'count.ge', path: { from: 'record', steps: ['keeper', 'keeps'] }, operand: 1 };
    await createTemplate({
      name: 'Kept',
      purpose: 'record',
      typeId: 'house',
      serves: [{ on: 'rule', typeId: 'house', rule: { group: 'all', rules: [far] } }],
      tree: treeFrom({ kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } }),
    });
    await release();
    /** Groups of records whose numbers are read to ask them. */
    const asking = (statements: string[]) => statements.filter((sql) => /LIMIT 500\b/.test(sql));
    expect(asking(await statementsOf(prewarmLists))).toEqual([]);
    expect(asking(await statementsOf(open)).length).toBeGreaterThan(0);
  });

  it('comes with them where it is soon, later where it is not, and what fails is told either way', async () => {
    const slow = (ms: number, fails = false) =>
      new Promise<string>((done, fail) => setTimeout(() => (fails ? fail(new Error('No.')) : done('there')), ms));
    expect(await deferred(Promise.resolve(1))).toEqual({ of: 1 });
    expect(await deferred(slow(1), 1000)).toEqual({ of: 'there' });
    const { of } = await deferred(slow(50), 1);
    expect(of).toBeInstanceOf(Promise);
    expect(await of).toBe('there');
    await expect(deferred(slow(1, true), 1000)).rejects.toThrow('No.');
    await expect((await deferred(slow(50, true), 1)).of).rejects.toThrow('No.');
  });
});
