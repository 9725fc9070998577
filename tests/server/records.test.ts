import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { select } from '../../src/lib/server/database/connect';
import { readModel } from '../../src/lib/server/services/model';
import { saveContentType } from '../../src/lib/server/services/types';
import { changeRecord, createRecord, readRecord } from '../../src/lib/server/services/records';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { createTemplate, readTemplate, saveTemplate } from '../../src/lib/server/services/templates';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { model } from '../support/world';
import { saveTerm } from '../support/services';

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
});
afterAll(() => drop());

describe('records', () => {
  it('keep every kind of value as it was given', async () => {
    const values = {
      name: 'A',
      story: 'One.\n\nTwo.',
      height: 0,
      open: false,
      built: '2020-02-29',
      seen: '2026-01-01T10:00:00+02:00',
      state: 'fair',
      web: { url: 'https://a.example', label: 'Ä 霧 👨‍👩‍👧' },
    };
    const made = await createRecord('house', {
      title: 'Ünïcode 霧',
      values,
      terms: ['peak', 'south'],
      status: 'published',
    });
    const read = await readRecord(made.id);
    expect(read).toMatchObject({
      title: 'Ünïcode 霧',
      slug: 'unicode-霧',
      status: 'published',
      values,
      terms: ['peak', 'south'],
      version: 1,
    });
  });

  it('get addresses of their own', async () => {
    const slugs = [];
    for (let i = 0; i < 3; i++) slugs.push((await createRecord('house', { title: 'Twin' })).slug);
    expect(slugs).toEqual(['twin', 'twin-2', 'twin-3']);
    expect((await createRecord('way', { title: 'Twin' })).slug).toBe('twin');
    expect((await createRecord('house', { title: '!!!' })).slug).toBe('record');
    expect((await createRecord('house', { title: 'Page' })).slug).toBe('page-record');
    expect((await refused(createRecord('house', { title: 'Other', slug: 'twin' }))).status).toBe(409);
  });

  it('refuse what is wrong, with place and reason, and keep nothing of it', async () => {
    const before = (await select('SELECT id FROM records')).length;
    const cases: [string, unknown, string][] = [
      ['house', { title: ' ' }, 'title'],
      ['house', { title: 'x', values: { height: 'tall' } }, 'values.height'],
      ['house', { title: 'x', values: { nowhere: 1 } }, 'values.nowhere'],
      ['house', { title: 'x', values: { ways: [999_999] } }, 'values.ways'],
      ['house', { title: 'x', values: { photo: 999_999 } }, 'values.photo'],
      ['house', { title: 'x', terms: ['nowhere'] }, 'terms'],
      ['house', { title: 'x', unheard: 1 }, 'unheard'],
      ['house', 'no object', ''],
      ['house', { title: 'x'.repeat(501) }, 'title'],
    ];
    for (const [type, input, at] of cases) {
      const error = await refused(createRecord(type, input));
      expect([error.status, error.problems[0]?.at]).toEqual([422, at]);
    }
    expect((await refused(createRecord('nowhere', { title: 'x' }))).status).toBe(404);
    expect((await select('SELECT id FROM records')).length).toBe(before);
  });

  it('change only what is named, and not at all from a stale version', async () => {
    const made = await createRecord('house', { title: 'Change', values: { name: 'a', height: 1 } });
    const changed = await changeRecord(made.id, { values: { height: null }, version: 1 });
    expect(changed).toMatchObject({ title: 'Change', values: { name: 'a' }, version: 2 });
    expect(changed.values.height).toBeUndefined();
    const stale = await refused(changeRecord(made.id, { values: { name: 'b' }, version: 1 }));
    expect([stale.status, stale.more.version]).toEqual([409, 2]);
    expect((await readRecord(made.id))?.values.name).toBe('a');
  });

  it('of which something is required can be drafts, but not be published without it', async () => {
    const type = model.types[1]!;
    await saveContentType({ ...type, fields: type.fields.map((f) => (f.id === 'age' ? { ...f, required: true } : f)) });
    const draft = await createRecord('person', { title: 'No age' });
    expect((await refused(changeRecord(draft.id, { status: 'published' }))).problems[0]).toMatchObject({
      at: 'values.age',
      what: '“Age” is required before publishing.',
    });
    expect((await changeRecord(draft.id, { status: 'published', values: { age: 30 } })).published).toBeTruthy();
    await saveContentType(type);
  });
});

describe('relations', () => {
  it('are one fact with two sides', async () => {
    const [ada, bo] = [await createRecord('person', { title: 'Ada' }), await createRecord('person', { title: 'Bo' })];
    const [a, b] = [
      await createRecord('house', { title: 'A', values: { keeper: [ada.id] } }),
      await createRecord('house', { title: 'B' }),
    ];
    expect((await readRecord(ada.id))?.values.keeps).toEqual([a.id]);
    // The side that takes one lets go of its former.
    await changeRecord(bo.id, { values: { keeps: [b.id, a.id] } });
    expect((await readRecord(a.id))?.values.keeper).toEqual([bo.id]);
    expect((await readRecord(ada.id))?.values.keeps).toBeUndefined();
    expect((await readRecord(bo.id))?.values.keeps).toEqual([b.id, a.id]);
    expect((await refused(changeRecord(a.id, { values: { keeper: [ada.id, bo.id] } }))).problems[0]?.what).toBe(
      '“Keeper” takes one.',
    );
    expect((await refused(changeRecord(a.id, { values: { keeper: [b.id] } }))).problems[0]?.what).toContain(
      'not of a type',
    );
  });

  it('keep an order on each side and leave nothing dangling', async () => {
    const ways = [await createRecord('way', { title: 'W1' }), await createRecord('way', { title: 'W2' })].map(
      (r) => r.id,
    );
    const x = await createRecord('house', { title: 'X', values: { ways: [ways[1], ways[0]] } });
    const y = await createRecord('house', { title: 'Y', values: { ways: [ways[1]] } });
    expect((await readRecord(x.id))?.values.ways).toEqual([ways[1], ways[0]]);
    await changeRecord(ways[1]!, { values: { houses: [y.id, x.id] } });
    expect((await readRecord(ways[1]!))?.values.houses).toEqual([y.id, x.id]);
    expect((await readRecord(x.id))?.values.ways).toEqual([ways[1], ways[0]]);
    await deleteRecords([ways[1]!]);
    expect((await readRecord(x.id))?.values.ways).toEqual([ways[0]]);
    expect((await readRecord(y.id))?.values.ways).toBeUndefined();
  });

  it('end consistent when both sides are written at once', async () => {
    const houses = await Promise.all(['P', 'Q', 'R'].map((title) => createRecord('house', { title })));
    const ways = await Promise.all(['p', 'q', 'r'].map((title) => createRecord('way', { title })));
    const ids = { houses: houses.map((h) => h.id), ways: ways.map((w) => w.id) };
    await Promise.all(
      Array.from({ length: 24 }, (_, i) =>
        i % 2
          ? changeRecord(ids.houses[i % 3]!, { values: { ways: ids.ways.slice(i % 3) } })
          : changeRecord(ids.ways[i % 3]!, { values: { houses: ids.houses.slice(0, (i % 3) + 1) } }),
      ),
    );
    for (const house of await Promise.all(ids.houses.map(readRecord)))
      for (const way of (house?.values.ways ?? []) as number[])
        expect((await readRecord(way))?.values.houses).toContain(house?.id);
    const doubled = await select('SELECT 1 AS one FROM links GROUP BY relation_id, a_id, b_id HAVING COUNT(*) > 1');
    expect(doubled).toEqual([]);
  });
});

describe('the model', () => {
  it('refuses what is wrong and keeps what was there', async () => {
    const house = model.types[0]!;
    expect((await refused(saveContentType({ ...house, id: 'h2', key: 'h2' }))).problems[0]?.at).toBe('base');
    expect(
      (await refused(saveContentType({ ...house, fields: [{ ...house.fields[0], kind: 'hologram' }] }))).problems[0]
        ?.what,
    ).toContain('hologram');
    expect((await readModel()).type('house')?.fields).toHaveLength(house.fields.length);
  });

  it('renames keys without touching values', async () => {
    const house = model.types[0]!;
    const made = await createRecord('house', { title: 'Keys', values: { name: 'kept' } });
    const swapped = house.fields.map((f) =>
      f.id === 'name' ? { ...f, key: 'story' } : f.id === 'story' ? { ...f, key: 'name' } : f,
    );
    await saveContentType({ ...house, fields: swapped });
    expect((await readRecord(made.id))?.values.name).toBe('kept');
    expect((await readModel()).field('name')?.field.key).toBe('story');
    await saveContentType(house);
  });

  it('has no circles of terms', async () => {
    expect((await refused(saveTerm({ ...model.terms[0]!, parentId: 'peak' }))).title).toBe(
      'A term cannot lie below itself.',
    );
    expect((await refused(saveTerm({ ...model.terms[0]!, parentId: 'nowhere' }))).status).toBe(422);
  });
});

describe('templates', () => {
  it('are not overwritten from a stale version', async () => {
    const made = await createTemplate({ name: 'One', purpose: 'record', typeId: 'house' });
    const { template } = await saveTemplate(made.id, { ...made, name: 'Two' });
    expect(template.version).toBe(2);
    expect((await refused(saveTemplate(made.id, { ...made, name: 'Three' }))).status).toBe(409);
    expect((await readTemplate(made.id)).name).toBe('Two');
  });

  it('keep a binding to a deleted field as a loose end, and refuse what does not fit', async () => {
    const tree = (steps: string[], kind = 'text', slot = 'text') =>
      treeFrom({ kind: 'box', children: [{ kind, slots: { [slot]: boundTo('record', steps) } }] });
    const made = await createTemplate({ name: 'Loose', purpose: 'record', typeId: 'house', tree: tree(['name']) });
    const kept = await saveTemplate(made.id, { ...made, tree: tree(['deleted-long-ago']) });
    expect(kept.looseEnds[0]?.what).toBe('The field this was bound to has been deleted.');
    const wrong = await refused(saveTemplate(made.id, { ...kept.template, tree: tree(['name'], 'picture', 'source') }));
    expect(wrong.problems[0]).toMatchObject({ what: 'Name is text; this takes a picture.', fix: 'Choose a picture.' });
    expect((await refused(createTemplate({ name: 'x', purpose: 'record', typeId: 'nowhere' }))).status).toBe(422);
  });
});
