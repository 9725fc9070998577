import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { inTransaction } from '../../src/lib/server/database/connect';
import { listRecords, recordTable } from '../../src/lib/server/services/lists';
import { readModel } from '../../src/lib/server/services/model';
import { changeRecord, createRecord, insertRecords, readRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { SlugBook } from '../../src/lib/server/services/slugs';
import { createTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase, statementsOf } from '../support/database';
import { saveModel } from '../support/fill';

let drop: () => Promise<void>;
const WAYS = 1000;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  const model = await readModel();
  await inTransaction((transaction) =>
    insertRecords(
      model,
      model.type('way')!,
      Array.from({ length: WAYS }, (_, i) => ({ title: `Way ${i}`, status: 'published' })),
      transaction,
      new SlugBook('way'),
    ),
  );
});
afterAll(() => drop());

describe('what asks for much, or for nothing', () => {
  it('a list by a field that nobody filled has all records, by their numbers', async () => {
    const all = await listRecords(
      { source: { from: 'query', typeIds: ['way'] }, order: [{ steps: ['km'], down: true }] },
      { drafts: false },
    );
    expect(all.total).toBe(WAYS);
    const ids = all.records.map(({ id }) => id);
    expect(ids).toEqual([...ids].sort((a, b) => a - b));
    const far = await recordTable('way', { order: { step: 'km', down: false }, offset: 990, limit: 50 });
    expect(far.records.map(({ id }) => id)).toEqual(ids.slice(990));
    // One that is filled comes before all others, whichever way it goes, until it is empty again.
    await changeRecord(ids[500] as number, { values: { km: 3 } });
    for (const down of [true, false])
      expect((await recordTable('way', { order: { step: 'km', down } })).records[0]?.id).toBe(ids[500]);
    await changeRecord(ids[500] as number, { values: { km: null } });
    expect((await recordTable('way', { order: { step: 'km', down: false } })).records[0]?.id).toBe(ids[0]);
  });

  it('a record with a thousand related ones keeps their order, by few statements, and the page has all of them', async () => {
    const ways = (await listRecords({ source: { from: 'query', typeIds: ['way'] } }, { drafts: false })).records;
    const backwards = ways.map(({ id }) => id).reverse();
    let house!: Awaited<ReturnType<typeof createRecord>>;
    const made = await statementsOf(async () => {
      house = await createRecord('house', { title: 'Hub', status: 'published', values: { ways: backwards } });
    });
    expect(made.length).toBeLessThan(40);
    expect((await readRecord(house.id))!.values.ways).toEqual(backwards);
    // One goes, one other comes to the front: what stays is not written again.
    const moved = [...backwards.slice(1, 500), ...backwards.slice(501), backwards[500] as number];
    const changed = await statementsOf(() => changeRecord(house.id, { values: { ways: moved } }));
    expect(changed.length).toBeLessThan(40);
    expect((await readRecord(house.id))!.values.ways).toEqual(moved);
    expect((await readRecord(backwards[0] as number))!.values.houses ?? []).toEqual([]);
    expect((await readRecord(backwards[7] as number))!.values.houses).toEqual([house.id]);
    await createTemplate({
      name: 'Hub',
      purpose: 'record',
      typeId: 'house',
      tree: treeFrom({
        kind: 'loop',
        id: 'ways',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['ways'] } } },
        children: [{ kind: 'text', slots: { text: boundTo('loop:ways', ['@title']) } }],
      }),
    });
    await release();
    const { html } = await answer('/houses/hub', { base: '', origin: '' });
    const titles = new Map(ways.map(({ id, title }) => [id, title]));
    expect([...html.matchAll(/>(Way \d+)</g)].map(([, title]) => title)).toEqual(moved.map((id) => titles.get(id)));
  });
});
