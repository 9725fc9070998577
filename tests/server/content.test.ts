import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { select } from '../../src/lib/server/database/connect';
import { deleteAuthor } from '../../src/lib/server/services/authors';
import { removeGenerated } from '../../src/lib/server/services/generate';
import { recordTable, findTitles } from '../../src/lib/server/services/lists';
import { addBytes, deleteMedia } from '../../src/lib/server/services/media';
import { readModel } from '../../src/lib/server/services/model';
import { changeRecord, createRecord, readRecord } from '../../src/lib/server/services/records';
import { deleteRecords, undoRemoval } from '../../src/lib/server/services/record-removal';
import { deleteTaxonomy, deleteTerm, mergeTerms, termCounts } from '../../src/lib/server/services/taxonomies';
import { createTemplate } from '../../src/lib/server/services/templates';
import { countsOf, fillRates, usesOfField, usesOfType } from '../../src/lib/server/services/type-uses';
import { deleteContentType, saveContentType, saveContentTypes } from '../../src/lib/server/services/types';
import { previewKind } from '../../src/lib/server/services/kind-changes';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { field, model } from '../support/world';
import { changeRecords, generateRecords, moveTerm, saveAuthor, saveTaxonomy, saveTerm } from '../support/services';

let drop: () => Promise<void>;
const shed = {
  id: 'shed',
  key: 'shed',
  name: 'Shed',
  plural: 'Sheds',
  base: 'sheds',
  taxonomyIds: ['area'],
  fields: [
    { ...field('code', 'text', {}, 'Code'), unique: true },
    { ...field('colour', 'colour', {}, 'Colour'), initial: 'plum' },
    field('note', 'text', {}, 'Note'),
    field('body', 'richtext', {}, 'Body'),
    field('shots', 'pictures', {}, 'Shots'),
    field('tags', 'choices', { options: ['a', 'b', 'c'].map((key) => ({ key, label: key.toUpperCase() })) }, 'Tags'),
    field(
      'parts',
      'rows',
      {
        fields: [
          field('what', 'text', {}, 'What'),
          field('maker', 'relation', { relationId: 'made', side: 'a', many: false, typeIds: ['person'] }, 'Maker'),
          field('shot', 'picture', {}, 'Shot'),
        ],
      },
      'Parts',
    ),
  ],
};

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await saveContentType(shed);
});
afterAll(() => drop());

let drawn = 0;
/** A drawing unlike every other one. */
const drawing = () =>
  addBytes(
    `d${++drawn}.svg`,
    Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="${drawn + 9}" height="9"><rect width="9" height="9"/></svg>`,
    ),
  );

describe('values', () => {
  it('that are unique stay so, whatever their case and whoever writes', async () => {
    const first = await createRecord('shed', { title: 'One', values: { code: 'Ä-1' } });
    expect((await refused(createRecord('shed', { title: 'Two', values: { code: 'ä-1 ' } }))).problems[0]).toMatchObject(
      { at: 'values.code', what: '“One” has this Code already.' },
    );
    const tries = await Promise.allSettled(
      Array.from({ length: 6 }, (_, i) => createRecord('shed', { title: `Race ${i}`, values: { code: 'RACE' } })),
    );
    expect(tries.filter((t) => t.status === 'fulfilled')).toHaveLength(1);
    await changeRecord(first.id, { values: { code: 'Ä-2' } });
    expect((await createRecord('shed', { title: 'Three', values: { code: 'ä-1' } })).values.code).toBe('ä-1');
  });

  it('start as the field says', async () => {
    expect((await createRecord('shed', { title: 'Fresh' })).values).toEqual({ colour: 'plum' });
    expect((await createRecord('shed', { title: 'Own', values: { colour: null } })).values).toEqual({});
  });

  it('of rich text are reduced to the allow-list before they are kept', async () => {
    const made = await createRecord('shed', {
      title: 'Rich',
      values: {
        body: '<p onclick="x()">a<script>alert(1)</script><b>b</b> <a href="javascript:x()">c</a><img src="https://e.example/t.gif"></p>',
      },
    });
    expect(made.values.body).toBe('<p>a<strong>b</strong> <a>c</a></p>');
  });
});

describe('looking for records by their title', () => {
  it('finds without case and accents, word by word, as the search of the site does', async () => {
    for (const title of ['Ötzhütte Süd', 'İzmir kulübesi', 'Λευκό σπίτι', '霧の小屋', 'Straßenwacht'])
      await createRecord('way', { title });
    const found = async (search: string) => [
      (await recordTable('way', { search })).records.map(({ title }) => title),
      (await findTitles(['way'], search)).map(({ title }) => title),
    ];
    for (const [search, title] of [
      ['otzhutte', 'Ötzhütte Süd'],
      ['SUD Otz', 'Ötzhütte Süd'],
      ['izmir', 'İzmir kulübesi'],
      ['λευκο', 'Λευκό σπίτι'],
      ['小屋', '霧の小屋'],
      ['strasse', 'Straßenwacht'],
    ] as const)
      expect(await found(search), search).toEqual([[title], [title]]);
    expect(await found('%')).toEqual([[], []]);
  });
});

describe('what is deleted', () => {
  it('leaves no link behind, in rows either, and comes back whole', async () => {
    const ada = await createRecord('person', { title: 'Ada' });
    const house = await createRecord('house', { title: 'H', values: { keeper: [ada.id] }, terms: ['peak'] });
    const own = await createRecord('shed', {
      title: 'S',
      values: { parts: [{ what: 'door', maker: [ada.id] }, { maker: [ada.id] }] },
    });
    const before = [await readRecord(house.id), (await readRecord(own.id))?.values];
    const { removal } = await deleteRecords([ada.id]);
    expect((await readRecord(house.id))?.values.keeper).toBeUndefined();
    expect((await readRecord(own.id))?.values.parts).toEqual([{ what: 'door' }]);
    expect(await select('SELECT * FROM links WHERE a_id = ? OR b_id = ?', [ada.id, ada.id])).toEqual([]);
    expect(await select("SELECT * FROM mentions WHERE target = 'record' AND target_id = ?", [ada.id])).toEqual([]);
    await undoRemoval(removal);
    expect([await readRecord(house.id), (await readRecord(own.id))?.values]).toEqual(before);
    expect((await findTitles(['person'], 'ada')).map((one) => one.id)).toContain(ada.id);
    expect((await refused(undoRemoval(removal))).status).toBe(404);
  });

  it('does not come back over something that has taken its place', async () => {
    const one = await createRecord('way', { title: 'Only' });
    const { removal } = await deleteRecords([one.id]);
    await createRecord('way', { title: 'Only' });
    expect(await refused(undoRemoval(removal))).toMatchObject({ status: 409 });
    expect(await readRecord(one.id)).toBeUndefined();
  });

  it('goes out of the counts and into them again', async () => {
    const before = await countsOf('way');
    const ids = [];
    for (let i = 0; i < 3; i++)
      ids.push((await createRecord('way', { title: `Count ${i}`, status: i ? 'published' : 'draft' })).id);
    expect(await countsOf('way')).toMatchObject({ published: before.published + 2, drafts: before.drafts + 1 });
    const { removal } = await deleteRecords(ids);
    expect(await countsOf('way')).toMatchObject({ published: before.published, drafts: before.drafts });
    await undoRemoval(removal);
    expect(await countsOf('way')).toMatchObject({ published: before.published + 2, drafts: before.drafts + 1 });
  });

  it('takes pictures out of values, sets, rows and rich text', async () => {
    const [a, b] = [await drawing(), await drawing()];
    const made = await createRecord('shed', {
      title: 'Shown',
      values: {
        shots: [a.id, b.id],
        parts: [{ what: 'x', shot: a.id }],
        body: `<p>Look</p><img src="/media/${a.id}/original" />`,
      },
    });
    const { removal } = await deleteMedia([a.id]);
    expect((await readRecord(made.id))?.values).toMatchObject({
      shots: [b.id],
      parts: [{ what: 'x' }],
      body: '<p>Look</p>',
    });
    await undoRemoval(removal);
    expect((await readRecord(made.id))?.values).toEqual(made.values);
  });
});

describe('many records at once', () => {
  it('are published, filed and undone; those that cannot be are told', async () => {
    await saveContentType({
      ...shed,
      fields: shed.fields.map((f) => (f.id === 'note' ? { ...f, required: true } : f)),
    });
    const able = await createRecord('shed', { title: 'Able', values: { note: 'n' } });
    const bare = await createRecord('shed', { title: 'Bare' });
    const answer = await changeRecords({ ids: [able.id, bare.id], status: 'published', addTerms: ['hill'] });
    expect([answer.changed, answer.left.map((one) => one.title)]).toEqual([1, ['Bare']]);
    expect(answer.left[0]?.problems[0]?.what).toBe('“Note” is required before publishing.');
    expect(await readRecord(able.id)).toMatchObject({ status: 'published', terms: ['hill'], version: 2 });
    expect(await readRecord(bare.id)).toMatchObject({ status: 'draft', terms: [] });
    await undoRemoval(answer.removal);
    expect(await readRecord(able.id)).toMatchObject({ status: 'draft', terms: [], version: 1 });
    // Of those that could not be published nothing says otherwise, also where none of them could.
    expect((await changeRecords({ ids: [bare.id], status: 'published' })).changed).toBe(0);
    const drafts = {
      group: 'all',
      rules: [{ test: 'choice.is', path: { from: 'loop:table', steps: ['@status'] }, operand: 'draft' }],
    };
    expect((await recordTable('shed', { filter: drafts, limit: 500 })).records.map((r) => r.id)).toContain(bare.id);
    expect(await refused(changeRecords({ ids: [] }))).toMatchObject({ status: 422 });
    expect(await refused(changeRecords({ ids: [able.id], addTerms: ['nowhere'] }))).toMatchObject({ status: 422 });
    await saveContentType(shed);
  });

  it('are made up, marked, and removed in one go', async () => {
    await drawing();
    const before = (await countsOf('shed')).total;
    await generateRecords('shed', { count: 40, seed: 7 });
    expect(await countsOf('shed')).toMatchObject({ total: before + 40, generated: 40 });
    const { records } = await recordTable('shed', { limit: 500 });
    const made = records.filter((record) => record.generated);
    expect(new Set(made.map((record) => record.slug)).size).toBe(40);
    expect(made.filter((record) => record.values.parts).length).toBeGreaterThan(25);
    // Kept by somebody, it is real.
    expect((await changeRecord(made[0]!.id, { generated: false })).generated).toBe(false);
    expect((await removeGenerated('shed')).deleted).toBe(39);
    expect((await refused(removeGenerated('shed'))).status).toBe(404);
    expect((await refused(generateRecords('shed', { count: 0 }))).status).toBe(422);
    // A side that takes one is left to the real records.
    const keeper = await createRecord('person', { title: 'Real' });
    const kept = await createRecord('house', { title: 'Really kept', values: { keeper: [keeper.id] } });
    await generateRecords('person', { count: 30, seed: 1 });
    expect((await readRecord(kept.id))?.values.keeper).toEqual([keeper.id]);
    await removeGenerated('person');
  });
});

describe('fields', () => {
  const change = (id: string, more: object) => ({
    ...shed,
    fields: shed.fields.map((f) => (f.id === id ? { ...f, ...more } : f)),
  });

  it('tell how many records have a value', async () => {
    const { total, fields } = await fillRates('shed');
    const { records } = await recordTable('shed', { limit: 500 });
    expect(total).toBe(records.length);
    for (const f of shed.fields)
      expect([f.id, fields[f.id] ?? 0]).toEqual([f.id, records.filter((r) => r.values[f.id] !== undefined).length]);
    expect((await fillRates('house')).fields.keeper).toBe(
      (await recordTable('house', { limit: 500 })).records.filter((r) => r.values.keeper).length,
    );
  });

  it('change their kind as the preview says', async () => {
    const ids: number[] = [];
    for (const note of ['12', '7.5', 'twelve', '-3'])
      ids.push((await createRecord('shed', { title: `N ${note}`, values: { note } })).id);
    const preview = await previewKind('shed', { ...shed.fields[2], kind: 'number' });
    expect(preview).toMatchObject({ lost: preview.examples.filter((e) => e.after === null).length });
    expect(preview.examples).toContainEqual({ title: 'N twelve', before: 'twelve', after: null });
    await saveContentType(change('note', { kind: 'number' }));
    expect(await Promise.all(ids.map(async (id) => (await readRecord(id))?.values.note))).toEqual([
      12,
      7.5,
      undefined,
      -3,
    ]);
    const { records } = await recordTable('shed', { order: { step: 'note', down: true }, limit: 3 });
    expect(records.map((r) => r.values.note)).toEqual([12, 7.5, -3]);
    await saveContentType(shed);
    expect((await readRecord(ids[1]!))?.values.note).toBe('7.5');
    expect(
      (
        await refused(
          saveContentType(
            change('note', {
              kind: 'relation',
              settings: { relationId: 'z', side: 'a', many: true, typeIds: ['person'] },
            }),
          ),
        )
      ).status,
    ).toBe(422);
  });

  it('change from one into several and back, by words', async () => {
    const made = await createRecord('shed', { title: 'T', values: { tags: ['a', 'b'] } });
    await saveContentType(change('tags', { kind: 'text', settings: {} }));
    expect((await readRecord(made.id))?.values.tags).toBe('A, B');
    await saveContentType(shed);
  });

  it('are renamed without anybody noticing', async () => {
    const made = await createRecord('shed', { title: 'R', values: { note: 'kept' } });
    await createTemplate({
      name: 'Sheds',
      purpose: 'record',
      typeId: 'shed',
      tree: treeFrom({ kind: 'text', slots: { text: boundTo('record', ['note']) } }),
    });
    await saveContentType(change('note', { key: 'remark', label: 'Remark' }));
    expect((await readRecord(made.id))?.values.note).toBe('kept');
    expect((await usesOfField('shed', 'note')).uses.map((use) => use.what)).toEqual(['Template “Sheds”, in 1 place']);
    await saveContentType(shed);
  });

  it('are taken away and brought back with their values', async () => {
    const made = await createRecord('shed', { title: 'F', values: { note: 'still here', code: 'F-1' } });
    const { removal } = await saveContentTypes([
      { ...shed, fields: shed.fields.filter((f) => f.id !== 'note' && f.id !== 'code') },
    ]);
    expect((await readModel()).field('note')).toBeUndefined();
    await undoRemoval(removal!);
    expect((await readRecord(made.id))?.values).toMatchObject({ note: 'still here', code: 'F-1' });
    expect(
      (
        await recordTable('shed', {
          filter: {
            group: 'all',
            rules: [{ test: 'text.is', path: { from: 'loop:table', steps: ['note'] }, operand: 'STILL here' }],
          },
        })
      ).total,
    ).toBe(1);
  });

  it('that become unique are refused where two values are the same', async () => {
    await createRecord('shed', { title: 'D1', values: { note: 'twin' } });
    await createRecord('shed', { title: 'D2', values: { note: 'Twin' } });
    expect(await refused(saveContentType(change('note', { unique: true })))).toMatchObject({
      status: 422,
      title: 'Two records have the same value already.',
    });
    expect((await readModel()).field('note')?.field.unique).toBe(false);
  });

  it('come on both sides of a relation at once', async () => {
    const way = model.types[2]!;
    const a = field('beside', 'relation', { relationId: 'beside', side: 'a', many: true, typeIds: ['way'] }, 'Beside');
    const b = field('sheds', 'relation', { relationId: 'beside', side: 'b', many: true, typeIds: ['shed'] }, 'Sheds');
    await saveContentTypes([
      { ...shed, fields: [...shed.fields, a] },
      { ...way, fields: [...way.fields, b] },
    ]);
    const w = await createRecord('way', { title: 'Beside it' });
    const s = await createRecord('shed', { title: 'By the way', values: { beside: [w.id] } });
    expect((await readRecord(w.id))?.values.sheds).toEqual([s.id]);
    expect(
      (await refused(saveContentTypes([{ ...shed, fields: [...shed.fields, a, { ...a, id: 'again', key: 'again' }] }])))
        .problems[0]?.what,
    ).toContain('same side');
    await saveContentTypes([shed, way]);
  });
});

describe('content types', () => {
  it('go with their records and what leads to them, and come back', async () => {
    const person = (await createRecord('person', { title: 'Keeper' })).id;
    const house = await createRecord('house', { title: 'Kept', values: { keeper: [person] } });
    const uses = await usesOfType('person');
    expect(uses.uses.map((use) => use.what)).toContain('“Keeper” of House leads to it');
    const { removal } = await deleteContentType('person');
    expect((await readModel()).type('person')).toBeUndefined();
    expect((await readModel()).field('keeper')).toBeUndefined();
    expect(await readRecord(person)).toBeUndefined();
    expect((await readRecord(house.id))?.title).toBe('Kept');
    await undoRemoval(removal);
    expect((await readRecord(house.id))?.values.keeper).toEqual([person]);
    expect((await countsOf('person')).total).toBe(uses.records);
  });
});

describe('relations', () => {
  it('that take one on a side never hold two, whoever writes at once', async () => {
    const people = await Promise.all(['P', 'Q', 'R'].map((title) => createRecord('person', { title })));
    const houses = await Promise.all(['1', '2', '3', '4'].map((title) => createRecord('house', { title })));
    const random = (n: number) => Math.floor(Math.random() * n);
    await Promise.all(
      Array.from({ length: 30 }, (_, i) =>
        i % 2
          ? changeRecord(houses[random(4)]!.id, { values: { keeper: [people[random(3)]!.id] } })
          : changeRecord(people[random(3)]!.id, { values: { keeps: houses.filter(() => random(2)).map((h) => h.id) } }),
      ),
    );
    const doubled = await select(
      "SELECT a_id FROM links WHERE relation_id = 'keeps' GROUP BY a_id HAVING COUNT(*) > 1",
    );
    expect(doubled).toEqual([]);
    for (const house of houses) {
      const keeper = ((await readRecord(house.id))?.values.keeper as number[] | undefined)?.[0];
      for (const person of people)
        expect(((await readRecord(person.id))?.values.keeps as number[] | undefined)?.includes(house.id) ?? false).toBe(
          person.id === keeper,
        );
    }
  });

  it('keep an order of their own on each side', async () => {
    const ways = await Promise.all(['a', 'b', 'c'].map((title) => createRecord('way', { title })));
    const [a, b, c] = ways.map((way) => way.id) as [number, number, number];
    const one = await createRecord('house', { title: 'one', values: { ways: [c, a] } });
    const two = await createRecord('house', { title: 'two', values: { ways: [a, b, c] } });
    await changeRecord(a, { values: { houses: [two.id, one.id] } });
    expect((await readRecord(one.id))?.values.ways).toEqual([c, a]);
    await changeRecord(one.id, { values: { ways: [a, c, b] } });
    expect((await readRecord(a))?.values.houses).toEqual([two.id, one.id]);
    expect((await readRecord(b))?.values.houses).toEqual([two.id, one.id]);
  });
});

describe('terms', () => {
  const make = async (name: string, parentId: string | null = null) =>
    (await saveTerm({ taxonomyId: 'area', name, parentId })).id;

  it('never lie below themselves, whoever moves them at once', async () => {
    const [a, b, c] = [await make('A'), await make('B'), await make('C')];
    for (let round = 0; round < 5; round++) {
      await Promise.allSettled([
        moveTerm(a, { parentId: b }),
        moveTerm(b, { parentId: c }),
        moveTerm(c, { parentId: a }),
      ]);
      const now = await readModel();
      for (const id of [a, b, c]) {
        let at: string | null = id;
        for (let steps = 0; at !== null; steps++) {
          expect(steps).toBeLessThan(10);
          at = now.term(at)?.parentId ?? null;
        }
      }
      for (const id of [a, b, c]) await moveTerm(id, { parentId: null });
    }
    expect((await refused(saveTerm({ ...(await readModel()).term(a)!, parentId: a }))).problems[0]?.at).toBe(
      'parentId',
    );
  });

  it('lie below terms of their own taxonomy, and below nothing else', async () => {
    const id = await make('Lost');
    for (const parentId of ['', 'nowhere', id.repeat(20)]) {
      expect([parentId, (await refused(moveTerm(id, { parentId }))).status]).toEqual([parentId, 422]);
      const asked = saveTerm({ taxonomyId: 'area', name: 'New', parentId });
      expect([parentId, (await refused(asked)).status]).toEqual([parentId, 422]);
    }
    expect((await readModel()).term(id)?.parentId).toBeNull();
  });

  it('stand where they were put', async () => {
    const top = await make('Top');
    const [x, y, z] = [await make('X', top), await make('Y', top), await make('Z', top)];
    await moveTerm(z, { parentId: top, at: 0 });
    expect((await readModel()).terms.filter((t) => t.parentId === top).map((t) => t.id)).toEqual([z, x, y]);
  });

  it('are merged with their records and what lies below, and parted again', async () => {
    const [from, into] = [await make('From'), await make('Into')];
    const below = await make('Below', from);
    const both = await createRecord('shed', { title: 'Both', terms: [from, into] });
    const one = await createRecord('shed', { title: 'One of', terms: [from] });
    const { removal } = await mergeTerms(from, into);
    expect((await readModel()).term(from)).toBeUndefined();
    expect((await readModel()).term(below)?.parentId).toBe(into);
    expect([(await readRecord(both.id))?.terms, (await readRecord(one.id))?.terms]).toEqual([[into], [into]]);
    await undoRemoval(removal);
    expect((await readModel()).term(below)?.parentId).toBe(from);
    expect([(await readRecord(both.id))?.terms, (await readRecord(one.id))?.terms]).toEqual([[from, into], [from]]);
  });

  it('are merged into one that lies below them without a knot', async () => {
    const upper = await make('Upper');
    const lower = await make('Lower', upper);
    const other = await make('Other', upper);
    await mergeTerms(upper, lower);
    const now = await readModel();
    expect([now.term(lower)?.parentId, now.term(other)?.parentId]).toEqual([null, lower]);
  });

  it('are deleted with a choice for their records', async () => {
    const [a, b] = [await make('Going'), await make('Staying')];
    const below = await make('Deeper', a);
    const filed = await createRecord('shed', { title: 'Filed', terms: [a] });
    await deleteTerm(a, { records: b });
    expect((await readRecord(filed.id))?.terms).toEqual([b]);
    expect((await readModel()).term(below)?.parentId).toBeNull();
    await deleteTerm(b, {});
    expect((await readRecord(filed.id))?.terms).toEqual([]);
    expect((await refused(deleteTerm(below, { records: below }))).status).toBe(422);
  });

  it('keep description and picture, and have addresses of their own', async () => {
    const picture = await drawing();
    const term = await saveTerm({ taxonomyId: 'area', name: 'Höhe', description: 'High up.', pictureId: picture.id });
    expect((await readModel()).term(term.id)).toMatchObject({
      slug: 'hohe',
      description: 'High up.',
      pictureId: picture.id,
    });
    expect((await saveTerm({ taxonomyId: 'area', name: 'Höhe' })).slug).toBe('hohe-2');
    expect((await refused(saveTerm({ taxonomyId: 'area', name: 'x', slug: 'hohe' }))).status).toBe(409);
    expect((await refused(saveTerm({ taxonomyId: 'area', name: 'x', pictureId: 9999 }))).status).toBe(422);
    await deleteMedia([picture.id]);
    expect((await readModel()).term(term.id)?.pictureId).toBeNull();
  });

  it('of a whole taxonomy go and come back with their records', async () => {
    const before = [(await readModel()).terms, await termCounts()];
    const { removal } = await deleteTaxonomy('area');
    expect((await readModel()).terms).toEqual([]);
    expect((await readModel()).type('shed')?.taxonomyIds).toEqual([]);
    await undoRemoval(removal);
    expect([(await readModel()).terms, await termCounts()]).toEqual(before);
    expect((await readModel()).type('shed')?.taxonomyIds).toEqual(['area']);
    expect((await refused(saveTaxonomy({ ...model.taxonomies[0], tree: false }))).problems[0]?.at).toBe('tree');
  });
});

describe('authors', () => {
  it('have a picture and clean words, and leave their records behind', async () => {
    const author = await saveAuthor({ name: 'Hester Q', about: '<p>Hi<script>x()</script></p>' });
    expect(author).toMatchObject({ slug: 'hester-q', about: '<p>Hi</p>' });
    const made = await createRecord('shed', { title: 'Written', authorId: author.id });
    const { removal } = await deleteAuthor(author.id);
    expect((await readRecord(made.id))?.authorId).toBeNull();
    await undoRemoval(removal);
    expect((await readRecord(made.id))?.authorId).toBe(author.id);
    expect((await refused(createRecord('shed', { title: 'x', authorId: 999 }))).problems[0]?.at).toBe('authorId');
    expect((await saveAuthor({ ...author, name: 'Hester' })).slug).toBe('hester-q');
    expect((await refused(saveAuthor({ name: ' ' }))).status).toBe(422);
  });
});

describe('the table of records', () => {
  it('pages through every record once, in any order, empties last', async () => {
    const all = (await recordTable('shed', { limit: 500 })).total;
    for (const step of ['@title', 'code', 'note', '@changed', '@published'])
      for (const down of [false, true]) {
        const seen: number[] = [];
        const values: unknown[] = [];
        for (let offset = 0; offset < all; offset += 7) {
          const { records } = await recordTable('shed', { order: { step, down }, limit: 7, offset });
          seen.push(...records.map((r) => r.id));
          values.push(
            ...records.map(
              (r) =>
                (step.startsWith('@')
                  ? step === '@title'
                    ? r.title
                    : step === '@changed'
                      ? r.changed
                      : r.published
                  : r.values[step]) ?? null,
            ),
          );
        }
        expect([step, new Set(seen).size, seen.length]).toEqual([step, all, all]);
        const firstEmpty = values.indexOf(null);
        if (firstEmpty >= 0) expect(values.slice(firstEmpty).every((v) => v === null)).toBe(true);
      }
  });

  it('says what it cannot do', async () => {
    expect((await refused(recordTable('shed', { order: { step: 'shots', down: false } }))).status).toBe(422);
    expect((await refused(recordTable('shed', { limit: 0 }))).status).toBe(422);
    expect((await refused(recordTable('nowhere'))).status).toBe(404);
    const across = {
      group: 'all',
      rules: [{ test: 'count.ge', path: { from: 'loop:table', steps: ['tags'] }, operand: 1 }],
    };
    expect((await refused(recordTable('shed', { filter: across }))).problems[0]?.at).toBe('filter');
  });

  it('is filtered by several choices', async () => {
    await createRecord('shed', { title: 'AB', values: { tags: ['a', 'b'] } });
    await createRecord('shed', { title: 'BC', values: { tags: ['b', 'c'] } });
    const found = async (test: string, operand: string[]) =>
      (
        await recordTable('shed', {
          filter: { group: 'all', rules: [{ test, path: { from: 'loop:table', steps: ['tags'] }, operand }] },
        })
      ).records
        .map((r) => r.title)
        .filter((t) => t === 'AB' || t === 'BC');
    expect(await found('choices.any', ['a', 'c'])).toEqual(['AB', 'BC']);
    expect(await found('choices.all', ['a', 'b'])).toEqual(['AB']);
    expect(await found('choices.none', ['a'])).toEqual(['BC']);
  });
});
