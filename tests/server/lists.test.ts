import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { run } from '../../src/lib/server/database/connect';
import { clearReadCache } from '../../src/lib/server/queries/read-cache';
import { createRecord } from '../../src/lib/server/services/records';
import { createTemplate, deleteTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase, statementsOf } from '../support/database';
import { saveModel } from '../support/fill';
import { saveAuthor } from '../support/services';

let drop: () => Promise<void>;
let authorId = 0;
const NAMES = ['ash', 'Ash', 'äsh', 'birch', '50% off', 'a_b', '', 'oak tree', 'ωμέγα', '霧'];

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  authorId = (await saveAuthor({ name: 'Ada Fell', slug: 'ada-fell', about: '<p>Writes of <em>fog</em>.</p>' })).id;
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
      published: `2026-0${1 + (i % 3)}-10T12:00:00Z`,
      authorId: i % 2 ? authorId : null,
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
});
afterAll(() => drop());

const at = (address: string) => {
  const url = new URL(address, 'http://a.example');
  const asked: Record<string, string[]> = {};
  for (const [key, value] of url.searchParams) (asked[key] ??= []).push(value);
  return answer(decodeURIComponent(url.pathname), { base: '', which: 'draft', origin: 'http://a.example' }, asked);
};
/** Published houses by their number in the filling above. */
const houses = (holds: (i: number) => boolean) =>
  Array.from({ length: 40 }, (_, i) => i).filter((i) => i % 9 !== 4 && holds(i)).length;
const listed = (html: string) => html.match(/<h2/g)?.length ?? 0;

describe('archives that are there from the start', () => {
  it('list what is filed under a term or below it', async () => {
    const { status, html } = await at('/area/north/');
    expect(status).toBe(200);
    expect(html).toContain('<h1>North</h1>');
    // Those below it are led to.
    expect(html).toContain('href="/area/hill/"');
    expect(listed(html)).toBe(
      Math.min(
        20,
        houses((i) => [1, 2, 3].includes(i % 5)),
      ),
    );
    expect((await at('/area/no-such/')).status).toBe(404);
    expect(await at('/area/north')).toMatchObject({ status: 301, to: '/area/north/' });
  });

  it('list what an author wrote, and say who that is', async () => {
    const { html } = await at('/by/ada-fell/');
    expect(html).toContain('<title>Ada Fell · ');
    expect(html).toContain('<meta name="description" content="Writes of fog.">');
    expect(listed(html)).toBe(houses((i) => i % 2 === 1));
  });

  it('list what was published in a year or a month, and know no others', async () => {
    expect(listed((await at('/houses/2026/02/')).html)).toBe(houses((i) => i % 3 === 1));
    expect((await at('/houses/2026/')).html).toContain('<h1>Houses, 2026</h1>');
    expect((await at('/houses/2026/04/')).status).toBe(404);
    expect((await at('/houses/1999/')).status).toBe(404);
    expect(await at('/houses/2026')).toMatchObject({ status: 301, to: '/houses/2026/' });
  });

  it('list what a search finds, in every type, in any script, and are not kept by search engines', async () => {
    const { html } = await at(`/search/?q=${encodeURIComponent('ΩΜΈΓΑ')}`);
    expect(listed(html)).toBe(houses((i) => i % 10 === 8));
    expect(html).toContain('<meta name="robots" content="noindex">');
    expect(html).toContain('value="ΩΜΈΓΑ"');
    expect(listed((await at('/search/?q=person')).html)).toBe(3);
    expect((await at('/search/')).html).toContain('Nothing was found.');
    for (const odd of ['%25', '"', '+-*', '@3', "'; DROP TABLE records; --", 'x'.repeat(5000)])
      expect((await at(`/search/?q=${encodeURIComponent(odd)}`)).status).toBe(200);
  });

  it('have pages as links, with what was asked, and none past the end', async () => {
    const { html } = await at('/area/north/?utm=x');
    expect(html).toContain('<link rel="canonical" href="http://a.example/area/north/">');
    expect(html).toContain('<link rel="next" href="/area/north/page/2/">');
    const second = await at('/search/page/2/?q=house');
    expect(second.html).toContain('<link rel="canonical" href="http://a.example/search/page/2/?q=house">');
    expect(second.html).toContain('href="/search/?q=house" rel="prev"');
    for (const gone of [
      '/area/north/page/3/',
      '/area/north/page/0/',
      '/area/north/page/1000000000/',
      '/search/page/9/?q=house',
    ])
      expect((await at(gone)).status).toBe(404);
    expect(await at('/area/north/page/1/?q=x')).toMatchObject({ status: 301, to: '/area/north/?q=x' });
  });

  it('answer by the template that serves them', async () => {
    const tree = treeFrom({
      kind: 'box',
      children: [{ kind: 'heading', slots: { text: boundTo('archive', ['@title'], { before: 'Of ' }) } }],
    });
    const own = await createTemplate({
      name: 'Areas',
      purpose: 'archive',
      serves: [{ on: 'taxonomy', taxonomyId: 'area' }],
      tree,
    });
    expect((await at('/area/peak/')).html).toContain('Of Peak');
    expect((await at('/houses/')).html).not.toContain('Of ');
    await deleteTemplate(own.id);
  });
});

describe('lists that visitors choose from', () => {
  const list = (name: string, id: string, more: object): Nested => ({
    kind: 'loop',
    id,
    name,
    props: {
      source: { from: 'query', typeIds: ['house'] },
      order: [{ steps: ['@title'], down: false }],
      perPage: 3,
      ...more,
    },
    children: [{ kind: 'heading', props: { level: 3 }, slots: { text: boundTo(`loop:${id}`, ['@title']) } }],
  });
  const visitors = {
    search: ['name'],
    facets: ['@terms:area', 'state', 'open', 'height'].map((step) => ({ step })),
    sorts: [{ step: 'height', label: 'Highest', down: true }],
  };
  const page = () =>
    treeFrom({
      kind: 'box',
      children: [
        { kind: 'filters', props: { loop: 'one' } },
        list('House', 'one', { visitors }),
        list('House', 'two', {}),
      ],
    });

  it('are filtered, searched and put in order by the address alone, two on a page without clash', async () => {
    const template = await createTemplate({ name: 'Two lists', purpose: 'archive', typeId: 'way', tree: page() });
    const all = (await at('/ways/')).html;
    expect(all).toContain(`<p role="status">${houses(() => true)} found.</p>`);
    const chosen = (await at('/ways/?house-area=south&house-open=yes&house-page=1&house-2-page=2')).html;
    expect(chosen).toContain(`${houses((i) => [3, 4].includes(i % 5) && i % 3 === 0)} found.`);
    // The other list stays at the page it is at.
    expect(chosen).toContain('<input type="hidden" name="house-2-page" value="2">');
    expect((await at('/ways/?house-q=ASH')).html).toContain(`${houses((i) => i % 10 < 3)} found.`);
    for (const past of ['house-page=99', 'house-page=0', 'house-page=-1', 'house-page=1e9', 'house-2-page=x'])
      expect([past, (await at(`/ways/?${past}`)).status]).toEqual([past, 404]);
    expect((await at('/ways/?house-state=purple')).html).toContain('there is no “purple” to choose');
    await deleteTemplate(template.id);
  });

  it('cost a number of statements that choices do not change', async () => {
    const template = await createTemplate({ name: 'Cost', purpose: 'archive', typeId: 'way', tree: page() });
    await at('/ways/');
    clearReadCache();
    const few = (await statementsOf(() => at('/ways/'))).length;
    const asked =
      '/ways/?house-area=south&house-area=north&house-open=yes&house-height-from=0&house-q=a&house-sort=highest';
    clearReadCache();
    // What is looked for with them is laid out once, and asks for nothing after that.
    await at(asked);
    clearReadCache();
    expect((await statementsOf(() => at(asked))).length).toBeLessThanOrEqual(few);
    // Nothing has been written since: the lists need not be asked for again.
    expect((await statementsOf(() => at(asked))).length).toBeLessThan(few);
    await deleteTemplate(template.id);
  });
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
      clearReadCache();
      const statements = await statementsOf(async () => {
        html = (await answer('/houses/', { base: '', which: 'draft', origin: 'http://a.example' })).html;
      });
      expect(html.match(/<h2>/g)).toHaveLength(perPage);
      return statements.length;
    };
    await answer('/houses/', { base: '', which: 'draft', origin: 'http://a.example' });
    const few = await count(2);
    const many = await count(30);
    expect(many).toBeLessThanOrEqual(few);
    expect(many).toBeLessThan(45);
  });
});
