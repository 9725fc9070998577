import { describe, expect, it } from 'vitest';
import { HtmlValidate } from 'html-validate';
import { indexModel } from '../../src/lib/core/model/model';
import type { Model } from '../../src/lib/core/schema/model';
import type { MenuEntry } from '../../src/lib/core/schema/menu';
import type { Env } from '../../src/lib/core/paths/env';
import { compileTree } from '../../src/lib/core/render/compile';
import type { ArchivePlace } from '../../src/lib/core/addresses/archives';
import { treeFrom } from '../../src/lib/core/templates/build';
import { envOf, model, record } from '../support/world';

const home = record(1, 'house', {}, { title: 'Home & hearth', slug: 'home', terms: ['peak'] });
const draft = record(2, 'house', {}, { title: 'Draft', slug: 'draft', status: 'draft' });
const entry = (id: string, leads: MenuEntry['leads'], more: Partial<MenuEntry> = {}): MenuEntry => ({
  id,
  leads,
  below: [],
  ...more,
});
const entries: MenuEntry[] = [
  entry('front', { to: 'front' }),
  entry('houses', { to: 'type', typeId: 'house' }, { below: [entry('home', { to: 'record', recordId: 1 })] }),
  entry('north', { to: 'term', termId: 'north' }, { label: 'Up "north"' }),
  entry('ada', { to: 'author', authorId: 7 }),
  entry('draft', { to: 'record', recordId: 2 }, { below: [entry('lost', { to: 'front' })] }),
  entry('gone', { to: 'type', typeId: 'gone' }),
  entry('search', { to: 'search' }),
  entry('away', { to: 'link', url: 'https://b.example/?a=1&b=2' }, { label: 'Away' }),
];
const site = (list: MenuEntry[] = entries): Model => ({
  ...model,
  authors: [{ id: 7, name: 'Ada Fell', slug: 'ada', about: '', pictureId: null }],
  menus: [{ id: 'm', name: 'Main', version: 1, entries: list }],
});
function draw(more: Partial<Env> = {}, props: Record<string, unknown> = {}, list = entries): string {
  const index = indexModel(site(list));
  const tree = treeFrom({ kind: 'menu', props: { menu: 'm', ...props } });
  const made = compileTree(tree, { loops: [] }, index);
  expect(made.looseEnds).toEqual([]);
  return made.draw(envOf([home, draft], [], { model: index, record: undefined, ...more }));
}
const link = (html: string, words: string) =>
  new RegExp(`<a href="([^"]*)"([^>]*)>${words}</a>`).exec(html)?.slice(1, 3);
const at = (of: ArchivePlace, address: string): Partial<Env> => ({ archive: of, address });

describe('a menu', () => {
  it('is a list of links in their order, called what they lead to where they have no words', () => {
    const html = draw();
    expect([...html.matchAll(/<a href="([^"]*)"[^>]*>([^<]*)/g)].map(([, url, words]) => [url, words])).toEqual([
      ['/', 'Home'],
      ['/houses/', 'Houses'],
      ['/houses/home', 'Home &amp; hearth'],
      ['/area/north/', 'Up &quot;north&quot;'],
      ['/by/ada/', 'Ada Fell'],
      ['/search/', 'Search'],
      ['https://b.example/?a=1&amp;b=2', 'Away'],
    ]);
    expect(html).toMatch(/^<nav class="[^"]*menu[^"]*" aria-label="Main"><ul>/);
  });

  it('leaves out what is gone or a draft, with all below it', () => {
    expect(draw()).not.toMatch(/Draft|gone/);
    expect(draw({}, {}, [entry('draft', { to: 'record', recordId: 2 })])).toBe('');
    expect(draw({}, { menu: 'other' })).toBe('');
  });

  it('marks the page itself, and what the page belongs under', () => {
    const marks = (more: Partial<Env>, words: string) => link(draw(more), words)?.[1];
    const houses: ArchivePlace = { of: 'type', typeId: 'house', page: 1 };
    expect(marks(at(houses, '/houses/'), 'Houses')).toBe(' aria-current="page"');
    expect(marks(at({ ...houses, page: 2 }, '/houses/page/2/'), 'Houses')).toBe(' aria-current="true"');
    expect(marks(at({ of: 'date', typeId: 'house', year: 2026, page: 1 }, '/houses/2026/'), 'Houses')).toBe(
      ' aria-current="true"',
    );
    expect(marks({ record: home, address: '/houses/home' }, 'Houses')).toBe(' aria-current="true"');
    expect(marks({ record: home, address: '/houses/home' }, 'Home &amp; hearth')).toBe(' aria-current="page"');
    expect(marks(at({ of: 'term', termId: 'peak', page: 1 }, '/area/peak/'), 'Up &quot;north&quot;')).toBe(
      ' aria-current="true"',
    );
    expect(marks(at({ of: 'term', termId: 'south', page: 1 }, '/area/south/'), 'Up &quot;north&quot;')).toBe('');
    expect(marks(at({ of: 'author', authorId: 7, page: 3 }, '/by/ada/page/3/'), 'Ada Fell')).toBe(
      ' aria-current="true"',
    );
    expect(marks(at({ of: 'search', words: 'x', page: 1 }, '/search/'), 'Search')).toBe(' aria-current="page"');
    expect(marks(at({ of: 'front', page: 1 }, '/'), 'Home')).toBe(' aria-current="page"');
    // One page is marked once.
    expect(draw(at(houses, '/houses/')).match(/aria-current="page"/g)).toHaveLength(1);
  });

  it('shows the first level alone where told so, and needs no server where it stands in a file', () => {
    expect(draw({}, { below: false })).not.toContain('hearth');
    expect(draw({ still: true })).not.toContain('Search');
  });

  it('is valid HTML', async () => {
    const report = await new HtmlValidate({ extends: ['html-validate:standard'] }).validateString(draw());
    expect(report.results.flatMap(({ messages }) => messages.map(({ ruleId }) => ruleId))).toEqual([]);
  });
});
