import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Tree } from '../../src/lib/core/schema/element';
import type { ContentType } from '../../src/lib/core/schema/model';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Transaction } from 'sequelize';
import type { OptionAnswer } from '../../src/lib/core/content/options';
import { inTransaction, run, select } from '../../src/lib/server/database/connect';
import { lockRow, writeValues } from '../../src/lib/server/queries/records';
import { lockSite, modelMoved } from '../../src/lib/server/queries/site';
import { migrate } from '../../src/lib/server/database/migrate';
import { prepareDatabase } from '../../src/lib/server/services/start';
import { clearReleases } from '../../src/lib/server/services/designs';
import { isMediaPublished } from '../../src/lib/server/queries/own';
import { recordTable } from '../../src/lib/server/services/lists';
import { readModel, readModels } from '../../src/lib/server/services/model';
import { changeRecord, createRecord, readRecord } from '../../src/lib/server/services/records';
import { undoRemoval } from '../../src/lib/server/services/record-removal';
import { goBack, pendingChanges, release, takeUp } from '../../src/lib/server/services/releases';
import { deleteTaxonomy } from '../../src/lib/server/services/taxonomies';
import { createTemplate } from '../../src/lib/server/services/templates';
import { deleteContentType, saveContentType, saveContentTypes } from '../../src/lib/server/services/types';
import { affectedPages } from '../../src/lib/server/site/affected';
import { sitemapPart } from '../../src/lib/server/site/outlets';
import { pagesReading } from '../../src/lib/server/site/pages-reading';
import { answer } from '../../src/lib/server/site/respond';
import { plainField } from '../../src/lib/core/model/field';
import type { Field } from '../../src/lib/core/model/model';
import { Refusal } from '../../src/lib/server/base/refusal';
import { freshDatabase } from '../support/database';
import { refused } from '../support/refused';
import { saveTaxonomy, saveTerm } from '../support/services';

const origin = 'https://a.example';
const get = (path: string, which: 'released' | 'draft' = 'released') => answer(path, { base: '', origin, which });
/** Without the address of the style sheet, which names the release. */
const html = async (path: string, which: 'released' | 'draft' = 'released') =>
  (await get(path, which)).html.replace(/\/styles\/[\w-]+\.css/g, '');
const search = async (words: string) =>
  (await answer('/search/', { base: '', origin, which: 'released' }, { q: [words] })).html;
const status = async (path: string, which: 'released' | 'draft' = 'released') => (await get(path, which)).status;
const still = { signal: new AbortController().signal, report: () => undefined };

const STATES = [
  { key: 'good', label: 'Sound' },
  { key: 'poor', label: 'Leaky' },
];
const boat: ContentType = {
  id: 'boat',
  key: 'boat',
  name: 'Boat',
  plural: 'Boats',
  base: 'boats',
  taxonomyIds: ['water'],
  fields: [
    plainField('length', 'Length', 'number', { unit: 'm' }),
    plainField('state', 'State', 'choice', { options: STATES }),
    plainField('log', 'Log', 'longtext', {}),
    plainField('crew', 'Crew', 'relation', { relationId: 'crews', side: 'a', many: true, typeIds: ['sailor'] }),
  ],
};
const sailor: ContentType = {
  id: 'sailor',
  key: 'sailor',
  name: 'Sailor',
  plural: 'Sailors',
  base: 'sailors',
  taxonomyIds: [],
  fields: [],
};

const page: Tree = treeFrom({
  kind: 'box',
  id: 'root',
  children: [
    { kind: 'heading', id: 'h', slots: { text: boundTo('record', ['@title']) } },
    { kind: 'text', id: 'l', slots: { text: boundTo('record', ['length']) } },
    { kind: 'text', id: 's', slots: { text: boundTo('record', ['state']) } },
    { kind: 'text', id: 'g', slots: { text: boundTo('record', ['log']) } },
    {
      kind: 'loop',
      id: 'crew',
      props: { source: { from: 'relation', path: { from: 'record', steps: ['crew'] } } },
      children: [{ kind: 'text', id: 'c', slots: { text: boundTo('loop:crew', ['@title']) } }],
    },
  ],
});
const archive: Tree = treeFrom({
  kind: 'box',
  children: [
    { kind: 'heading', slots: { text: { fixed: 'All boats' } } },
    {
      kind: 'loop',
      id: 'all',
      props: {
        source: { from: 'archive' },
        order: [{ steps: ['state'], down: false }],
        filter: { group: 'all', rules: [{ test: 'filled', path: { from: 'loop:all', steps: ['log'] } }] },
      },
      children: [{ kind: 'text', id: 'a', slots: { text: boundTo('loop:all', ['@title']) } }],
    },
  ],
});

let drop: () => Promise<void>;
let version = 0;
let ids: number[];
let sailors: number[];

/** Everything from the beginning: two boats with their crews, released. */
async function begin(): Promise<void> {
  // Another database in the same process: nothing of the one before is known any more.
  clearReleases();
  await run('UPDATE sites SET model_version = ?', [(version += 1000)]);
  await saveTaxonomy({ id: 'water', key: 'waters', name: 'Water', tree: false });
  await saveTerm({ id: 'lake', taxonomyId: 'water', name: 'Lake', slug: 'lake' });
  await saveContentType(sailor);
  await saveContentType(boat);
  sailors = [];
  for (const title of ['Ada', 'Ben']) sailors.push((await createRecord('sailor', { title, status: 'published' })).id);
  ids = [];
  for (const [title, state] of [
    ['Wren', 'poor'],
    ['Tern', 'good'],
  ])
    ids.push(
      (
        await createRecord('boat', {
          title,
          status: 'published',
          terms: ['lake'],
          values: { length: 7, state, log: `Sprang a leak near ${title}`, crew: sailors },
        })
      ).id,
    );
  await createTemplate({ id: 'page', name: 'Page', purpose: 'record', typeId: 'boat', tree: page });
  await createTemplate({
    id: 'list',
    name: 'List',
    purpose: 'archive',
    serves: [{ on: 'type', typeId: 'boat' }],
    tree: archive,
  });
}

beforeEach(async () => {
  drop = await freshDatabase();
  await begin();
});
afterEach(() => drop());

const seen = (text: string) =>
  [...text.matchAll(/<p class="text[^"]*">(.*?)<\/p>/g)].map(([, words = '']) =>
    words.replace(/<[^>]*>/g, '').replaceAll('\u00a0', ' '),
  );

describe('the model that visitors see', () => {
  it('has nothing of a type before it is released', async () => {
    const urls = async () => (await sitemapPart(1, ''))?.entries.map(({ url }) => url) ?? [];
    expect(
      await Promise.all(['/boats/', '/boats/wren', '/sailors/ada', '/waters/lake/'].map((at) => status(at))),
    ).toEqual([404, 404, 404, 404]);
    expect(await html('/')).not.toContain('Boats');
    expect(await urls()).toEqual(['/']);
    expect(
      await isMediaPublished(
        1,
        (await readModels()).seen.map(({ id }) => id),
      ),
    ).toBe(false);
    expect(await status('/boats/wren', 'draft')).toBe(200);
    const { changes } = await pendingChanges();
    expect(changes.map(({ what, how, name }) => `${what} ${how} ${name}`)).toEqual([
      'type new Sailors',
      'type new Boats',
      'taxonomy new Water',
      'template new Page',
      'template new List',
    ]);
    const found = await affectedPages(still, '');
    await release();
    expect((await urls()).sort()).toEqual(
      [
        '/',
        '/boats/',
        '/boats/tern',
        '/boats/wren',
        '/sailors/',
        '/sailors/ada',
        '/sailors/ben',
        '/waters/lake/',
      ].sort(),
    );
    // Every page that is new was told before: those of the site map, but for the front page that was there.
    const told = found.some.filter(({ how }) => how === 'new').map(({ address }) => address);
    for (const url of (await urls()).filter((one) => one !== '/')) expect(told).toContain(url);
  });

  it('has names, units, options, removals of fields and bases wait for a release', async () => {
    await release();
    const first = await html('/boats/wren');
    expect(seen(first)).toEqual(['7 m', 'Leaky', 'Sprang a leak near Wren', 'Ada', 'Ben']);
    const list = await html('/boats/');
    expect(seen(list)).toEqual(['Tern', 'Wren']);
    await saveContentType({
      ...boat,
      name: 'Vessel',
      plural: 'Vessels',
      base: 'vessels',
      fields: [
        plainField('length', 'Feet', 'number', { unit: 'ft' }),
        plainField('state', 'State', 'choice', {
          options: [
            { key: 'poor', label: 'Wet' },
            { key: 'good', label: 'Dry' },
          ],
        }),
        plainField('more', 'More', 'text', {}),
      ],
    });
    // To the byte what it was, lists from the database too, whatever authors write meanwhile.
    expect(await html('/boats/wren')).toBe(first);
    expect(await html('/boats/')).toBe(list);
    await changeRecord(ids[0]!, { values: { more: 'A word that nobody finds' } });
    await changeRecord(ids[1]!, { title: 'Tern', values: { state: 'good' } });
    expect(await html('/boats/wren')).toBe(first);
    expect(await html('/boats/')).toBe(list);
    expect(await search('leak')).toContain('/boats/wren');
    expect(await search('nobody')).not.toContain('/boats/wren');
    // The draft has its own order, and does not know what was taken away.
    expect(await html('/vessels/wren', 'draft')).toMatch(/7\u00a0ft[\s\S]*Wet/);
    const model = await readModel();
    const sorted = await recordTable('boat', { order: { step: 'state', down: false } });
    expect(sorted.records.map(({ title }) => title)).toEqual(['Wren', 'Tern']);
    expect(model.field('log')).toBeUndefined();
    expect((await readRecord(ids[0]!))?.values.crew).toBeUndefined();
    const { changes } = await pendingChanges();
    expect(changes.map(({ what, name, details }) => [what, name, ...details])).toEqual([
      [
        'type',
        'Vessels',
        'One is called “Vessel”; before “Boat”',
        'Many are called “Vessels”; before “Boats”',
        'Fields added: “More”',
        'Fields taken away: “Log”, “Crew”',
        'Field “Length” is called “Feet”',
        'Other options: “State”',
        'Other settings: “Feet”',
      ],
      [
        'addresses',
        'Vessels',
        'Archive at /vessels/; before at /boats/',
        'Records at /vessels/{slug}; before at /boats/{slug}',
      ],
    ]);
    await release();
    expect(await get('/boats/wren')).toMatchObject({ status: 301, to: '/vessels/wren' });
    expect(await get('/boats/')).toMatchObject({ status: 301, to: '/vessels/' });
    expect(seen(await html('/vessels/wren'))).toEqual(['7 ft', 'Wet']);
    expect(await search('nobody')).toContain('/vessels/wren');
    expect(await search('leak')).not.toContain('/vessels/wren');
    // Values of a removed field are kept for the release that shows them.
    await goBack(1);
    expect(await html('/boats/wren')).toBe(first);
    expect(await html('/boats/')).toBe(list);
    expect(await search('leak')).toContain('/boats/wren');
    await takeUp(1);
    expect((await readModel()).field('log')?.field.label).toBe('Log');
    expect((await readRecord(ids[0]!))?.values).toMatchObject({ log: 'Sprang a leak near Wren', crew: sailors });
    // What came later stays, behind the others.
    expect((await readModel()).type('boat')?.fields.at(-1)?.id).toBe('more');
  });

  it('has the removal of a type wait, with its records, links and addresses', async () => {
    await release();
    const before = await html('/boats/wren');
    const { removal } = await deleteContentType('sailor');
    expect((await readModel()).types.map(({ id }) => id)).toEqual(['boat']);
    expect(await html('/boats/wren')).toBe(before);
    expect(await status('/sailors/ada')).toBe(200);
    expect(await status('/sailors/ada', 'draft')).toBe(404);
    expect((await readRecord(ids[0]!))?.values.crew).toBeUndefined();
    // Its key and base are free for another.
    await saveContentType({ ...sailor, id: 'hand', name: 'Hand', plural: 'Hands' });
    await createRecord('hand', { title: 'Cal', status: 'published' });
    expect(await status('/sailors/cal')).toBe(404);
    await release();
    expect(await Promise.all(['/sailors/ada', '/sailors/cal'].map((at) => status(at)))).toEqual([404, 200]);
    expect(seen(await html('/boats/wren'))).not.toContain('Ada');
    await deleteContentType('hand');
    await release();
    await undoRemoval(removal);
    expect((await readRecord(ids[0]!))?.values.crew).toEqual(sailors);
    expect(await status('/sailors/ada')).toBe(404);
    await release();
    expect(await html('/boats/wren')).toBe(before);
  });

  it('has the removal of a taxonomy wait, whatever authors write meanwhile; a changed key leads on', async () => {
    await release();
    await saveTaxonomy({ id: 'water', key: 'places', name: 'Water', tree: false });
    expect(await Promise.all(['/waters/lake/', '/places/lake/'].map((at) => status(at)))).toEqual([200, 404]);
    await release();
    expect(await get('/waters/lake/')).toMatchObject({ status: 301, to: '/places/lake/' });
    const before = await html('/places/lake/');
    const { removal } = await deleteTaxonomy('water');
    expect(await html('/places/lake/')).toBe(before);
    await changeRecord(ids[0]!, { terms: [] });
    expect((await readRecord(ids[0]!))?.terms).toEqual([]);
    expect(await html('/places/lake/')).toBe(before);
    await undoRemoval(removal);
    expect((await readRecord(ids[0]!))?.terms).toEqual(['lake']);
    await deleteTaxonomy('water');
    await release();
    expect(await status('/places/lake/')).toBe(404);
  });

  it('keeps what stands at the top for visitors from the records that would stand there too', async () => {
    await saveContentType({ ...sailor, address: '/{slug}' });
    await release();
    await saveContentType({ ...boat, base: 'ships' });
    // Both the address that visitors find the boats at and the one that they will have are taken.
    for (const slug of ['boats', 'ships'])
      expect((await refused(createRecord('sailor', { title: 'X', slug }))).problems[0]?.what).toBe(
        `The address /${slug} belongs to something else.`,
      );
    expect((await refused(changeRecord(sailors[0]!, { slug: 'boats' }))).problems[0]?.at).toBe('slug');
    // So they are while records stand at the top for visitors alone.
    await saveContentType({ ...sailor, address: '' });
    expect((await refused(createRecord('sailor', { title: 'X', slug: 'boats' }))).problems[0]?.at).toBe('slug');
    await release();
    expect((await createRecord('sailor', { title: 'X', slug: 'boats' })).slug).toBe('boats');
    // Nor does a taxonomy take the place of one that stands there.
    await saveContentType({ ...sailor, address: '/{slug}' });
    await createRecord('sailor', { title: 'Reef', slug: 'old-reef' });
    const taken = await refused(saveTaxonomy({ id: 'reef', key: 'old_reef', name: 'Reef', tree: false }));
    expect(taken.problems[0]).toMatchObject({ at: 'key', what: '“Reef” has the address /old-reef.' });
  });

  it('takes a change of kind at once, and tells before which released pages read the field', async () => {
    await release();
    expect(await pagesReading('length')).toEqual([{ template: 'Page', pages: 2 }]);
    expect(await pagesReading('log')).toEqual([
      { template: 'Page', pages: 2 },
      // With the archives of its year and month.
      { template: 'List', pages: 3 },
    ]);
    const field = { ...boat.fields[0], kind: 'text', settings: {} } as Field;
    await saveContentType({ ...boat, fields: [field, ...boat.fields.slice(1)] });
    expect(seen(await html('/boats/wren'))[0]).toMatch(/^7/);
  });
});

describe('a release while values are converted', () => {
  it('has all of it before or after, and loses nothing that an author writes meanwhile', async () => {
    await release();
    const more = [];
    for (let i = 0; i < 60; i++)
      more.push(await createRecord('boat', { title: `Boat ${i}`, status: 'published', values: { length: i + 1 } }));
    const field = { ...boat.fields[0], kind: 'text', settings: {} } as Field;
    const last = more.at(-1)!;
    const [, , , told] = await Promise.all([
      saveContentType({ ...boat, fields: [field, ...boat.fields.slice(1)] }),
      release({ note: 'Meanwhile' }).catch((error: unknown) => {
        // There may be nothing to release where it comes first.
        if (!(error instanceof Refusal) || error.status !== 409) throw error;
      }),
      changeRecord(last.id, { values: { log: 'Written meanwhile' } }),
      Promise.all(Array.from({ length: 20 }, (_, i) => get(`/boats/boat-${i}`))),
    ]);
    for (const [i, { status: found, html: text }] of told.entries()) {
      expect(found).toBe(200);
      // With its unit as the number that it was, or without as text.
      expect(seen(text)[0]).toMatch(new RegExp(`^${i + 1}( m)?$`));
    }
    expect((await readRecord(last.id))?.values).toMatchObject({ length: '60', log: 'Written meanwhile' });
    expect((await readRecord(more[4]!.id))?.values.length).toBe('5');
    if ((await pendingChanges()).changes.length) await release();
    expect(seen(await html('/boats/boat-4'))[0]).toBe('5');
  });
});

describe('values that are converted while an author writes', () => {
  /** Holds a transaction open until it is let go. */
  function held(body: (transaction: Transaction) => Promise<void>) {
    let go = () => undefined as void;
    const gate = new Promise<void>((done) => (go = done));
    let begun = () => undefined as void;
    const open = new Promise<void>((done) => (begun = done));
    const done = inTransaction(async (transaction) => {
      await body(transaction);
      begun();
      await gate;
    });
    return { open, go, done };
  }
  /** Comes back once somebody waits for a lock. */
  async function waiting(): Promise<void> {
    for (;;) {
      const [row] = await select<{ n: string }>(
        "SELECT VARIABLE_VALUE AS n FROM information_schema.GLOBAL_STATUS WHERE VARIABLE_NAME = 'INNODB_ROW_LOCK_CURRENT_WAITS'",
      );
      if (Number(row?.n)) return;
    }
  }
  const asText = { ...boat.fields[0], kind: 'text', settings: {} } as Field;
  const states = (...keys: string[]) =>
    ({ ...boat.fields[1], settings: { options: keys.map((key) => ({ key, label: key })) } }) as Field;

  it('keep what was written just before', async () => {
    const [id] = ids as [number];
    for (const [fields, becomes, expected] of [
      [[asText, ...boat.fields.slice(1)], [], { length: '7' }],
      [
        [asText, states('good', 'new'), ...boat.fields.slice(2)],
        [{ field: 'state', option: 'poor', becomes: { to: 'new' } }],
        { state: 'new' },
      ],
    ] as [Field[], OptionAnswer[], object][]) {
      await changeRecord(id, { values: { state: 'poor', log: 'Before' } });
      const author = held(async (transaction) => {
        const row = (await lockRow(id, transaction))!;
        await writeValues({ id, values: { ...row.values, log: 'Written meanwhile' } }, transaction);
      });
      await author.open;
      const change = saveContentTypes([{ ...boat, fields }], undefined, becomes);
      await waiting();
      author.go();
      await Promise.all([author.done, change]);
      expect((await readRecord(id))?.values).toMatchObject({ ...expected, log: 'Written meanwhile' });
    }
  });

  it('are never written as what the field was', async () => {
    const [id] = ids as [number];
    const change = held(async (transaction) => {
      const row = (await lockRow(id, transaction))!;
      await writeValues({ id, values: { ...row.values, length: '7' } }, transaction);
      await run("UPDATE fields SET kind = 'text', settings = '{}' WHERE id = 'length'", [], transaction);
      await modelMoved(transaction);
    });
    await change.open;
    const wrote = changeRecord(id, { values: { length: 12 } }).catch((error: unknown) => error);
    await waiting();
    change.go();
    await Promise.all([change.done, wrote]);
    expect(typeof (await readRecord(id))?.values.length).toBe('string');
    // A new one waits for the change, and is written as what the field is by then.
    const back = held(async (transaction) => {
      await lockSite(transaction);
      await run("UPDATE fields SET kind = 'number' WHERE id = 'length'", [], transaction);
      await modelMoved(transaction);
    });
    await back.open;
    const made = createRecord('boat', { title: 'New', values: { length: 'long' } }).catch((error: unknown) => error);
    await waiting();
    back.go();
    await back.done;
    expect(await made).toBeInstanceOf(Refusal);
  });
});

describe('a site from before the model was released', () => {
  it('goes on as visitors saw it, in every release', async () => {
    await release();
    await saveContentType({ ...boat, base: 'ships' });
    await release();
    const before = await html('/ships/wren');
    // As releases were written then.
    for (const { id, design } of await select<{ id: number; design: string }>('SELECT id, design FROM releases')) {
      const { types, taxonomies: _, ...rest } = JSON.parse(design) as { types: ContentType[]; taxonomies: unknown };
      const own = Object.fromEntries(
        types.filter((one) => one.id === 'boat').map((one) => [one.id, { base: one.base }]),
      );
      await run('UPDATE releases SET design = ? WHERE id = ?', [JSON.stringify({ ...rest, types: own }), id]);
    }
    await run("DELETE FROM migrations WHERE name LIKE '0010-%'", []);
    await run('ALTER TABLE content_types DROP COLUMN is_removed', []);
    await run('ALTER TABLE taxonomies DROP COLUMN is_removed', []);
    await run('UPDATE sites SET model_version = model_version + 10', []);
    clearReleases();
    expect(await prepareDatabase()).toEqual(['0010-released-model']);
    expect(await migrate()).toEqual([]);
    expect(await html('/ships/wren')).toBe(before);
    // Types that no release named were seen as they stood.
    expect(await status('/sailors/ada')).toBe(200);
    await goBack(1);
    expect(await status('/boats/wren')).toBe(200);
  });
});
