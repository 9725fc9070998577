import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blankTree, boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Target } from '../../src/lib/core/schema/target';
import { deleteMenu } from '../../src/lib/server/services/menus';
import { readModel } from '../../src/lib/server/services/model';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { deleteRedirect, readRedirects } from '../../src/lib/server/services/redirects';
import { goBack, release } from '../../src/lib/server/services/releases';
import { createTemplate, deleteTemplate, readTemplate } from '../../src/lib/server/services/templates';
import { saveContentType } from '../../src/lib/server/services/types';
import { siteDesign } from '../../src/lib/server/site/design';
import { answer } from '../../src/lib/server/site/respond';
import { resolutionAt, previewServing } from '../../src/lib/server/site/serving';
import { pageRows, siteAssignments, templateAssignments, unserved } from '../../src/lib/server/site/assignments';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { addRedirects, assignRecords, orderTemplates, saveAuthor, saveServing, saveTerm } from '../support/services';
import { saveMenu } from '../support/services';

let drop: () => Promise<void>;
const ids: Record<string, number> = {};
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await saveAuthor({ name: 'Ada Fell' });
  for (const [title, terms, height] of [
    ['Ash', ['peak'], 30],
    ['Birch', ['south'], 3],
    ['Cedar', [], 30],
  ] as const)
    ids[title] = (
      await createRecord('house', {
        title,
        status: 'published',
        published: '2026-03-01T10:00:00Z',
        terms,
        authorId: 1,
        values: { height },
      })
    ).id;
  ids.way = (await createRecord('way', { title: 'The way', status: 'published' })).id;
});
afterAll(() => drop());

const high: Target = {
  on: 'rule',
  typeId: 'house',
  rule: { group: 'all', rules: [{ test: 'order.gt', path: { from: 'record', steps: ['height'] }, operand: 10 }] },
};
const make = (id: string, serves: Target[], more = {}) =>
  createTemplate({ id, name: id, purpose: 'record', serves, tree: blankTree(), ...more });
const allPages = async () =>
  (await pageRows(await siteAssignments(await siteDesign('draft')), { offset: 0, count: 1000 })).rows;
const whoAnswers = async () =>
  Object.fromEntries(
    (await allPages()).filter(({ is }) => is === 'record').map(({ title, template }) => [title, template]),
  );

describe('what templates serve', () => {
  it('decides which one answers each page of the site', async () => {
    await make('type', [{ on: 'type', typeId: 'house' }]);
    await make('north', [{ on: 'term', termId: 'north' }]);
    await make('high', [high], { except: [{ on: 'term', termId: 'north' }] });
    expect(await whoAnswers()).toEqual({ Ash: 'north', Birch: 'type', Cedar: 'high', 'The way': undefined });
    const design = await siteDesign('draft');
    const site = await siteAssignments(design);
    expect(templateAssignments(site).map(({ id, pages, unreachable }) => [id, pages, unreachable])).toEqual([
      ['type', 1, false],
      ['north', 1, false],
      ['high', 1, false],
    ]);
    expect(unserved(site)).toEqual([{ typeId: 'way', pages: 1 }]);
    expect((await allPages()).filter(({ is }) => is === 'archive').map(({ address }) => address)).toEqual(
      expect.arrayContaining([
        '/',
        '/houses/',
        '/area/north/',
        '/by/ada-fell/',
        '/houses/2026/',
        '/houses/2026/03/',
        '/search/',
      ]),
    );
  });

  it('is told for an address, with what the losers lack', async () => {
    const told = await resolutionAt('/houses/cedar');
    expect(told).toMatchObject({ title: 'Cedar', is: 'record', recordId: ids.Cedar });
    const [pages, frames] = told.contests;
    expect(pages?.candidates.map(({ id, reason }) => [id, reason])).toEqual([
      ['high', 'Serves houses for which Height > 10\u00a0m.'],
      ['type', 'Serves all houses, which is less near.'],
    ]);
    expect(pages?.others).toMatchObject([{ id: 'north', reason: 'Serves what is filed under North or below.' }]);
    expect(frames?.candidates).toEqual([]);
    const low = (await resolutionAt('/houses/birch')).contests[0]?.others.find(({ id }) => id === 'high');
    expect(low).toMatchObject({
      reason: 'Its rule does not hold: Height > 10\u00a0m.',
      rule: { holds: false, parts: [{ saw: '3\u00a0m' }] },
    });
    expect(await resolutionAt('/houses')).toMatchObject({ is: 'moved', to: '/houses/' });
    expect(await resolutionAt('/nowhere/at/all')).toMatchObject({ is: 'nothing' });
    expect(await resolutionAt('/')).toMatchObject({ is: 'archive', title: 'Front page' });
  });

  it('can be looked at before it is changed', async () => {
    const { version } = await readTemplate('north');
    const preview = await previewServing({
      id: 'north',
      purpose: 'record',
      serves: [{ on: 'records', typeId: 'house', ids: [ids.Birch!] }],
    });
    expect(preview).toMatchObject({ words: 'Serves one chosen house', pages: 1, changed: 2 });
    expect(preview.changes.map(({ title, from, to }) => [title, from, to])).toEqual(
      [
        ['Ash', 'north', 'high'],
        ['Birch', 'type', 'north'],
      ].map(([title, from, to]) => (title === 'Ash' ? [title, from, 'type'] : [title, from, to])),
    );
    expect((await readTemplate('north')).version).toBe(version);
    const fresh = await previewServing({ purpose: 'record', serves: [{ on: 'type', typeId: 'way' }] });
    expect(fresh).toMatchObject({ pages: 1, changes: [{ title: 'The way', to: 'The new template' }] });
  });

  it('is changed alone, with records assigned in bulk, and in an order', async () => {
    const north = await readTemplate('north');
    await saveServing('north', { serves: [...north.serves, { on: 'author', authorId: 1 }], version: north.version });
    expect((await refused(saveServing('north', { serves: north.serves, version: north.version }))).status).toBe(409);
    expect(await whoAnswers()).toMatchObject({ Birch: 'north', Cedar: 'high' });
    const assigned = await assignRecords('high', { typeId: 'house', ids: [ids.Ash!, ids.Birch!] });
    expect(assigned.template.serves).toContainEqual({ on: 'records', typeId: 'house', ids: [ids.Ash, ids.Birch] });
    expect(await whoAnswers()).toMatchObject({ Ash: 'north', Birch: 'high' });
    const again = await assignRecords('type', { typeId: 'house', ids: [ids.Birch!] });
    expect(again.others).toBe(1);
    expect(await whoAnswers()).toMatchObject({ Birch: 'type' });
    await make('second', [{ on: 'type', typeId: 'way' }]);
    await make('third', [{ on: 'type', typeId: 'way' }]);
    expect(await whoAnswers()).toMatchObject({ 'The way': 'second' });
    await orderTemplates({ ids: ['third', 'second'] });
    expect(await whoAnswers()).toMatchObject({ 'The way': 'third' });
    expect((await allPages()).find(({ title }) => title === 'The way')?.tied).toBe(true);
  });

  it('is refused where it names what is not there, or means nothing', async () => {
    const no = async (serves: Target[], purpose: 'record' | 'archive' = 'record') =>
      (await refused(createTemplate({ name: 'X', purpose, serves }))).problems.map(
        ({ at, what }) => `${at}: ${what}`,
      )[0];
    expect(await no([{ on: 'type', typeId: 'gone' }])).toBe('serves.0: There is no content type with this id.');
    expect(await no([{ on: 'records', typeId: 'house', ids: [] }])).toBe('serves.0: No record is chosen.');
    expect(await no([{ on: 'search' }])).toContain('nothing that a template of this kind serves');
    expect((await refused(assignRecords('gone', { typeId: 'house', ids: [1] }))).status).toBe(404);
  });
});

const get = async (path: string) => {
  const { status, to } = await answer(path, { base: '', origin: 'https://a.example' });
  return to ?? status;
};

describe('one archive template for several archives', () => {
  it('lists in each what belongs there', async () => {
    const tree = treeFrom({
      kind: 'loop',
      id: 'l',
      props: { source: { from: 'archive' }, order: [{ steps: ['@title'], down: false }], perPage: 20, arrange: 'list' },
      children: [{ kind: 'heading', props: { level: 2 }, slots: { text: boundTo('loop:l', ['@title']) } }],
    });
    const serves: Target[] = [
      { on: 'type', typeId: 'house' },
      { on: 'type', typeId: 'way' },
      { on: 'taxonomy', taxonomyId: 'area' },
    ];
    const { id } = await createTemplate({ name: 'Several', purpose: 'archive', serves, tree });
    const titles = async (path: string) =>
      [
        ...(await answer(path, { base: '', origin: 'https://a.example', which: 'draft' })).html.matchAll(
          /<h2>([^<]*)/g,
        ),
      ].map(([, title]) => title);
    expect(await titles('/houses/')).toEqual(['Ash', 'Birch', 'Cedar']);
    expect(await titles('/ways/')).toEqual(['The way']);
    expect(await titles('/area/south/')).toEqual(['Birch']);
    expect(await titles('/houses/2026/03/')).toEqual(['Ash', 'Birch', 'Cedar']);
    await deleteTemplate(id);
  });
});

describe('addresses', () => {
  it('lead on for good: of records, terms, authors, and of types', async () => {
    await release();
    await changeRecord(ids.Ash!, { slug: 'elder' });
    await changeRecord(ids.Ash!, { slug: 'rowan' });
    expect([await get('/houses/ash'), await get('/houses/elder'), await get('/houses/rowan')]).toEqual([
      '/houses/rowan',
      '/houses/rowan',
      200,
    ]);
    const term = (await readModel()).term('peak')!;
    await saveTerm({ ...term, slug: 'summit' });
    expect([await get('/area/peak/'), await get('/area/peak/page/2/'), await get('/area/summit/')]).toEqual([
      '/area/summit/',
      '/area/summit/page/2/',
      200,
    ]);
    await saveAuthor({ ...(await readModel()).author(1)!, slug: 'ada' });
    expect(await get('/by/ada-fell/')).toBe('/by/ada/');
    const house = (await readModel()).type('house')!;
    await saveContentType({ ...house, base: 'homes', address: '/homes/{year}/{area}/{slug}' });
    expect(await get('/houses/rowan')).toBe(200);
    await release();
    expect([await get('/houses/rowan'), await get('/houses/ash'), await get('/houses/')]).toEqual([
      '/homes/2026/summit/rowan',
      '/homes/2026/summit/rowan',
      '/homes/',
    ]);
    // With another term the same record has another address; the one before leads there.
    expect(await get('/homes/2026/summit/rowan')).toBe(200);
    await changeRecord(ids.Ash!, { terms: ['south'] });
    expect(await get('/homes/2026/summit/rowan')).toBe('/homes/2026/south/rowan');
    // Who takes a former slug has it.
    await createRecord('house', { title: 'Ash', slug: 'ash', status: 'published', published: '2026-04-01T00:00:00Z' });
    expect(await get('/homes/2026/ash')).toBe(200);
    await goBack(1);
    expect([await get('/homes/2026/south/rowan'), await get('/houses/rowan')]).toEqual(['/houses/rowan', 200]);
    await goBack(3);
  });

  it('that two records want, or that belong to something else, are refused', async () => {
    const taken = await refused(createRecord('house', { title: 'X', slug: 'rowan' }));
    expect([taken.status, taken.problems[0]?.what]).toEqual([409, 'Another record has the address “rowan”.']);
    const model = await readModel();
    const way = model.type('way')!;
    const overlap = await refused(saveContentType({ ...way, address: '/homes/{slug}' }));
    expect([overlap.status, overlap.problems[0]?.at]).toEqual([422, 'address']);
    expect(overlap.problems[0]?.what).toContain('could be way or house');
    expect((await refused(saveContentType({ ...way, address: '/ways' }))).problems[0]?.what).toContain('no {slug}');
    await saveContentType({ ...way, address: '/{slug}' });
    const reserved = await refused(createRecord('way', { title: 'X', slug: 'studio' }));
    expect(reserved.problems[0]).toMatchObject({ at: 'slug', what: 'The address /studio belongs to something else.' });
    expect((await refused(changeRecord(ids.way!, { slug: 'homes' }))).problems[0]?.at).toBe('slug');
    const base = await refused(saveContentType({ ...model.type('house')!, base: 'the-way' }));
    expect(base.problems[0]).toMatchObject({ at: 'base', what: '“The way” has the address /the-way.' });
    expect(
      (await refused(saveContentType({ ...way, structured: { is: 'Hovel', properties: [] } }))).problems[0]?.at,
    ).toBe('structured.is');
  });
});

describe('redirects that were written down', () => {
  it('lead where they say, at once to the end, and never in a circle', async () => {
    await addRedirects([
      { path: '/old/', target: '/older' },
      { path: '/older', target: '/homes/' },
      { path: '/%E9%9C%A7', target: 'https://b.example/fog?x=1' },
    ]);
    expect([await get('/old'), await get('/older/'), await get('/霧')]).toEqual([
      '/homes/',
      '/homes/',
      'https://b.example/fog?x=1',
    ]);
    const circle = await refused(
      addRedirects([
        { path: '/homes-2', target: '/old-2' },
        { path: '/old-2', target: '/homes-2/' },
      ]),
    );
    expect([circle.status, circle.problems[0]?.what]).toEqual([
      422,
      'This leads in a circle: /homes-2 → /old-2 → /homes-2.',
    ]);
    const itself = await refused(addRedirects([{ path: '/a', target: '/a/' }]));
    expect(itself.problems[0]?.what).toContain('circle');
    const bad = await refused(addRedirects([{ path: 'x', target: 'javascript:alert(1)' }]));
    expect(bad.problems.map(({ at }) => at)).toEqual(['0.path', '0.target']);
    const twice = await refused(
      addRedirects([
        { path: '/a', target: '/b' },
        { path: '/a/', target: '/c' },
      ]),
    );
    expect(twice.problems[0]?.what).toBe('“/a” leads to two places.');
    // A redirect that a later one goes on from leads to its end.
    await addRedirects([{ path: '/homes-old', target: '/ways-old' }]);
    await addRedirects([{ path: '/ways-old', target: '/homes/' }]);
    expect(await get('/homes-old')).toBe('/homes/');
    await deleteRedirect('/older');
    expect(await get('/older')).toBe(404);
    expect((await refused(deleteRedirect('/older'))).status).toBe(404);
    // Whoever led to it leads where it led.
    expect(await get('/old')).toBe('/homes/');
  });

  it('never lead past a page that is there, also one that came later', async () => {
    await addRedirects([
      { path: '/first', target: '/ways/way-between' },
      { path: '/ways/way-between', target: '/homes/' },
    ]);
    expect(await get('/first')).toBe('/homes/');
    const between = await createRecord('way', { title: 'Way between', status: 'published' });
    expect(await get('/ways/way-between')).toBe(200);
    expect(await get('/first')).toBe('/ways/way-between');
    await deleteRecords([between.id]);
    expect(await get('/first')).toBe('/homes/');
  });

  it('may be ten thousand, and a page that is there goes before them', async () => {
    const many = Array.from({ length: 10_000 }, (_, i) => ({ path: `/was/${i}`, target: `/homes/?n=${i}` }));
    expect(await addRedirects(many)).toEqual({ added: 10_000 });
    expect((await readRedirects('/was/99')).total).toBe(111);
    expect(await get('/was/9999')).toBe('/homes/?n=9999');
    await addRedirects([{ path: '/homes', target: '/ways/' }]);
    expect(await get('/homes/')).toBe(200);
  });
});

describe('menus', () => {
  it('name only what is there, and stay while a template shows them', async () => {
    const lost = await refused(
      saveMenu({ name: 'M', entries: [{ id: 'a', leads: { to: 'record', recordId: 9999 }, below: [] }] }),
    );
    expect(lost.problems[0]).toMatchObject({ at: 'entries.a', what: 'This leads to a record that is not there.' });
    const menu = await saveMenu({
      name: 'M',
      entries: [{ id: 'a', leads: { to: 'record', recordId: ids.way! }, below: [] }],
    });
    expect((await refused(saveMenu({ ...menu, version: 0 }))).status).toBe(409);
    await createTemplate({
      name: 'Frame',
      purpose: 'frame',
      tree: {
        root: 'r',
        elements: { r: { id: 'r', kind: 'menu', props: { menu: menu.id }, slots: {}, children: [] } },
      },
    });
    expect((await refused(deleteMenu(menu.id))).title).toContain('stands in “Frame”');
    const other = await saveMenu({ name: 'N', entries: [] });
    await deleteMenu(other.id);
    expect((await readModel()).menus.map(({ name }) => name)).toEqual(['M']);
  });
});
