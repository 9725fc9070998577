import sift from 'sift';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import table from 'world-countries';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { createTemplate, deleteTemplate } from '../../src/lib/server/services/templates';
import { saveContentTypes } from '../../src/lib/server/services/types';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveTaxonomy, saveTerm } from '../support/services';

/**
 * Real, related and nested input: the 250 countries of the `world-countries` package (its `countries.json`: names, area in
 * km², regions and parts of them, borders, languages, currencies). Every figure is computed straight from that table, by a
 * few lines of its own or by the query library `sift`, and compared with pages that the site serves.
 */
interface Country {
  cca3: string;
  name: { common: string };
  area: number;
  landlocked: boolean;
  independent?: boolean | null;
  region: string;
  subregion: string;
  borders: string[];
  languages: Record<string, string>;
  currencies: Record<string, { name: string; symbol: string }>;
}
const countries = table as unknown as Country[];
const byCode = new Map(countries.map((country) => [country.cca3, country]));
const byName = new Intl.Collator('en').compare;
const name = (country: Country) => country.name.common;
const named = (list: Country[]) => list.map(name);
const alphabetic = (list: Country[]) => [...list].sort((a, b) => byName(name(a), name(b)));
const slug = (text: string) => text.toLowerCase().replace(/[^a-z]+/g, '-') || 'none';
const languages = [...new Set(countries.flatMap((country) => Object.values(country.languages)))];

let drop: () => Promise<void>;
const ids = new Map<string, number>();
const languageIds = new Map<string, number>();

beforeAll(async () => {
  drop = await freshDatabase();
  await saveTaxonomy({ id: 'region', key: 'region', name: 'Region', tree: true });
  const terms = new Set<string>();
  const term = async (id: string, parentId: string | null, words: string) => {
    if (terms.has(id)) return;
    terms.add(id);
    await saveTerm({ id, taxonomyId: 'region', parentId, name: words, slug: slug(id), position: terms.size });
  };
  for (const { region, subregion } of countries) {
    await term(region, null, region);
    if (subregion && subregion !== region) await term(subregion, region, subregion);
  }
  const field = (id: string, label: string, kind: string, settings: object = {}) => ({
    id,
    key: id,
    label,
    kind,
    settings,
  });
  await saveContentTypes([
    {
      id: 'country',
      key: 'country',
      name: 'Country',
      plural: 'Countries',
      base: 'countries',
      taxonomyIds: ['region'],
      fields: [
        field('area', 'Area', 'number', { unit: 'km²' }),
        field('landlocked', 'Landlocked', 'yesno'),
        field('independent', 'Independent', 'yesno'),
        field('borders', 'Borders', 'relation', { relationId: 'borders', side: 'a', many: true, typeIds: ['country'] }),
        field('spoken', 'Languages', 'relation', {
          relationId: 'spoken',
          side: 'a',
          many: true,
          typeIds: ['language'],
        }),
        field('money', 'Currencies', 'rows', {
          fields: [field('code', 'Code', 'text'), field('called', 'Name', 'text')],
        }),
      ],
    },
    {
      id: 'language',
      key: 'language',
      name: 'Language',
      plural: 'Languages',
      base: 'languages',
      taxonomyIds: [],
      fields: [
        field('speakers', 'Where', 'relation', { relationId: 'spoken', side: 'b', many: true, typeIds: ['country'] }),
      ],
    },
  ]);
  const each = async <T>(list: readonly T[], work: (one: T) => Promise<void>) => {
    const queue = [...list];
    await Promise.all(
      Array.from({ length: 8 }, async () => {
        for (let one = queue.shift(); one; one = queue.shift()) await work(one);
      }),
    );
  };
  await each(languages, async (language) => {
    languageIds.set(language, (await createRecord('language', { title: language, status: 'published' })).id);
  });
  const versions = new Map<string, number>();
  await each(countries, async (country) => {
    const { area, landlocked, independent } = country;
    const made = await createRecord('country', {
      title: name(country),
      status: 'published',
      terms: [country.subregion || country.region],
      values: {
        area,
        landlocked,
        ...(typeof independent === 'boolean' ? { independent } : {}),
        spoken: Object.values(country.languages).map((language) => languageIds.get(language)),
        money: Object.entries(country.currencies).map(([code, { name: called }]) => ({ code, called })),
      },
    });
    ids.set(country.cca3, made.id);
    versions.set(country.cca3, made.version);
  });
  await each(
    countries.filter(({ borders }) => borders.length),
    async ({ cca3, borders }) => {
      await changeRecord(ids.get(cca3)!, {
        version: versions.get(cca3),
        values: { borders: borders.map((code) => ids.get(code)) },
      });
    },
  );
});
afterAll(() => drop());

const at = (steps: string, loop = 'l') => ({ from: `loop:${loop}`, steps: steps.split('/') });
const title = (loop = 'l', level = 2): Nested => ({
  kind: 'heading',
  props: { level },
  slots: { text: boundTo(`loop:${loop}`, ['@title']) },
});
const loop = (props: Record<string, unknown>, children: Nested[] = [title()], id = 'l'): Nested => ({
  kind: 'loop',
  id,
  name: 'Country',
  props,
  children,
});
const all = (...rules: object[]) => ({ group: 'all', rules });
const up = (steps: string, more = {}) => ({ steps: steps.split('/'), down: false, ...more });
const down = (steps: string, more = {}) => ({ steps: steps.split('/'), down: true, ...more });

/** A page of the site, drawn by a template with this one loop. */
async function page(tree: Nested, address = '/languages/', purpose: 'archive' | 'record' = 'archive'): Promise<string> {
  const [, base] = address.split('/');
  const made = await createTemplate({
    name: 'One loop',
    purpose,
    typeId: base === 'countries' ? 'country' : 'language',
    tree: treeFrom(tree),
  });
  const url = new URL(address, 'http://a.example');
  const asked = Object.fromEntries([...url.searchParams].map(([key, value]) => [key, [value]]));
  const { html } = await answer(url.pathname, { base: '', which: 'draft', origin: 'http://a.example' }, asked);
  await deleteTemplate(made.id);
  return html.slice(html.indexOf('<main'), html.indexOf('</main>'));
}
const text = (html: string) =>
  html
    .replace(/<[^>]*>/g, '')
    .replace(/&#39;/g, "'")
    .replaceAll('&amp;', '&')
    .trim();
const headings = (html: string, level = 2) =>
  [...html.matchAll(new RegExp(`<h${level}[^>]*>(.*?)</h${level}>`, 'g'))].map((match) => text(match[1]!));

describe('ten loops over the countries of the world', () => {
  it('1: filtered by numbers and yes or no, by area', async () => {
    const html = await page(
      loop({
        source: { from: 'query', typeIds: ['country'] },
        filter: all(
          { test: 'yesno.yes', path: at('landlocked') },
          { test: 'order.gt', path: at('area'), operand: 100_000 },
        ),
        order: [down('area')],
      }),
    );
    const expected = countries
      .filter(sift({ landlocked: true, area: { $gt: 100_000 } }))
      .sort((a, b) => b.area - a.area);
    expect(headings(html)).toEqual(named(expected));
    expect(expected.length).toBeGreaterThan(15);
  });

  it('2: any of several, none of others, and what is empty', async () => {
    const html = await page(
      loop({
        source: { from: 'query', typeIds: ['country'] },
        filter: {
          group: 'any',
          rules: [
            { test: 'empty', path: at('independent') },
            {
              group: 'none',
              rules: [
                { test: 'order.ge', path: at('area'), operand: 400 },
                { test: 'filled', path: at('borders') },
              ],
            },
          ],
        },
        order: [up('@title')],
      }),
    );
    const query = {
      $or: [{ independent: null }, { $nor: [{ area: { $gte: 400 } }, { borders: { $not: { $size: 0 } } }] }],
    };
    expect(headings(html)).toEqual(named(alphabetic(countries.filter(sift(query)))));
  });

  it('3: in a region or below it, by name', async () => {
    const html = await page(
      loop({
        source: { from: 'query', typeIds: ['country'] },
        filter: all({ test: 'terms.below', path: at('@terms:region'), operand: ['Europe'] }),
        order: [up('@title')],
      }),
    );
    expect(headings(html)).toEqual(named(alphabetic(countries.filter(({ region }) => region === 'Europe'))));
  });

  it('4: the neighbours of a country, in their own order', async () => {
    const html = await page(
      loop({ source: { from: 'relation', path: { from: 'record', steps: ['borders'] } } }),
      '/countries/switzerland',
      'record',
    );
    expect(headings(html)).toEqual(byCode.get('CHE')!.borders.map((code) => name(byCode.get(code)!)));
  });

  it('5: the neighbours of the neighbours, each once, without the country itself, by area', async () => {
    const html = await page(
      loop({
        source: { from: 'relation', path: { from: 'record', steps: ['borders', 'borders'] } },
        leaveOut: { current: true, above: false },
        order: [down('area')],
      }),
      '/countries/switzerland',
      'record',
    );
    const near = byCode.get('CHE')!.borders.flatMap((code) => byCode.get(code)!.borders);
    const expected = [...new Set(near)].filter((code) => code !== 'CHE').map((code) => byCode.get(code)!);
    expect(headings(html)).toEqual(named(expected.sort((a, b) => b.area - a.area)));
  });

  it('6: nested three deep: regions, their three largest countries, the currencies of each', async () => {
    const html = await page(
      loop({ source: { from: 'terms', taxonomyId: 'region', which: 'top' } }, [
        { kind: 'heading', props: { level: 2 }, slots: { text: boundTo('loop:l', ['name']) } },
        loop(
          {
            source: { from: 'query', typeIds: ['country'] },
            filter: all({ test: 'terms.below', path: at('@terms:region', 'm'), other: at('term') }),
            order: [down('area')],
            limit: 3,
          },
          [
            title('m', 3),
            loop(
              { source: { from: 'values', path: at('money', 'm') } },
              [{ kind: 'heading', props: { level: 4 }, slots: { text: boundTo('loop:n', ['code']) } }],
              'n',
            ),
          ],
          'm',
        ),
      ]),
    );
    const regions = [...new Set(countries.map(({ region }) => region))];
    expect(headings(html)).toEqual(regions);
    const largest = regions.flatMap((region) =>
      countries
        .filter((one) => one.region === region)
        .sort((a, b) => b.area - a.area)
        .slice(0, 3),
    );
    expect(headings(html, 3)).toEqual(named(largest));
    expect(headings(html, 4)).toEqual(largest.flatMap(({ currencies }) => Object.keys(currencies)));
  });

  it('7: grouped by first letter, with how many stand under each', async () => {
    const html = await page(
      loop(
        {
          source: { from: 'query', typeIds: ['country'] },
          order: [up('@title')],
          group: { steps: ['@title'], by: 'letter', down: false },
        },
        [
          {
            kind: 'turn',
            props: { as: 'group' },
            children: [
              { kind: 'heading', props: { level: 2 }, slots: { text: boundTo('loop:l', ['@group']) } },
              { kind: 'text', slots: { text: boundTo('loop:l', ['@group_size'], { before: 'has ' }) } },
            ],
          },
          title('l', 3),
        ],
      ),
    );
    const letter = (country: Country) => name(country).normalize('NFD')[0]!.toUpperCase();
    const letters = [...new Set(countries.map(letter))].sort(byName);
    expect(headings(html)).toEqual(letters);
    const sizes = [...html.matchAll(/has (\d+)/g)].map((match) => Number(match[1]));
    expect(sizes).toEqual(letters.map((one) => countries.filter((country) => letter(country) === one).length));
  });

  it('8: filtered through a relation and counted by one: French is spoken there, most neighbours first', async () => {
    const html = await page(
      loop({
        source: { from: 'query', typeIds: ['country'] },
        filter: all(
          { test: 'relation.any', path: at('spoken'), operand: [languageIds.get('French')] },
          { test: 'count.ge', path: at('borders'), operand: 2 },
        ),
        order: [down('borders', { take: 'count' }), up('@title')],
      }),
    );
    const expected = countries.filter((country) => 'fra' in country.languages && country.borders.length >= 2);
    expected.sort((a, b) => b.borders.length - a.borders.length || byName(name(a), name(b)));
    expect(headings(html)).toEqual(named(expected));
    expect(expected.length).toBeGreaterThan(15);
  });

  it('9: three a page, every page, by a number with ties', async () => {
    const shown: string[] = [];
    const expected = alphabetic(countries.filter(sift({ landlocked: true, region: 'Africa' })));
    const tree = loop({
      source: { from: 'query', typeIds: ['country'] },
      filter: all(
        { test: 'yesno.yes', path: at('landlocked') },
        { test: 'terms.below', path: at('@terms:region'), operand: ['Africa'] },
      ),
      order: [down('independent'), up('@title')],
      perPage: 3,
    });
    for (let n = 1; n <= Math.ceil(expected.length / 3); n++) {
      const html = await page(tree, `/languages/?country-page=${n}`);
      expect(html).toContain(`aria-current="page">${n}<`);
      shown.push(...headings(html));
    }
    expect(shown).toEqual(named(expected));
    expect(await page(tree, `/languages/?country-page=${Math.ceil(expected.length / 3) + 1}`)).toContain(
      'There is no page here',
    );
  });

  it('10: of the same part of the world, larger than this one, not this one', async () => {
    const html = await page(
      loop({
        source: { from: 'query', typeIds: ['country'] },
        filter: all(
          { test: 'terms.any', path: at('@terms:region'), other: { from: 'record', steps: ['@terms:region'] } },
          { test: 'order.ge', path: at('area'), other: { from: 'record', steps: ['area'] } },
        ),
        leaveOut: { current: true, above: false },
        order: [up('area')],
      }),
      '/countries/kenya',
      'record',
    );
    const kenya = byCode.get('KEN')!;
    const expected = countries.filter(
      (one) => one.subregion === kenya.subregion && one.area >= kenya.area && one !== kenya,
    );
    expect(headings(html)).toEqual(named(expected.sort((a, b) => a.area - b.area)));
  });

  it('and by what visitors choose: counts, ranges, words and order', async () => {
    const tree: Nested = {
      kind: 'box',
      children: [
        { kind: 'filters' },
        loop({
          source: { from: 'archive' },
          order: [up('@title')],
          visitors: {
            search: ['@title', 'money'],
            facets: [{ step: '@terms:region' }, { step: 'landlocked' }, { step: 'area' }],
            sorts: [{ step: 'area', label: 'Largest', down: true }],
          },
        }),
      ],
    };
    const html = await page(tree, '/countries/?region=africa&area-from=500000&sort=largest');
    const chosen = countries
      .filter(sift({ region: 'Africa', area: { $gte: 500_000 } }))
      .sort((a, b) => b.area - a.area);
    expect(headings(html)).toEqual(named(chosen));
    const count = (key: string, word: string) =>
      Number(
        new RegExp(`name="${key}" value="${word}"[^>]*> <span>[^<]*</span> <small>([\\d,]+)`).exec(html)?.[1] ?? 0,
      );
    const large = countries.filter(({ area }) => area >= 500_000);
    expect(count('region', 'europe')).toBe(large.filter(({ region }) => region === 'Europe').length);
    expect(count('region', 'eastern-africa')).toBe(
      large.filter(({ subregion }) => subregion === 'Eastern Africa').length,
    );
    expect(count('landlocked', 'yes')).toBe(chosen.filter(({ landlocked }) => landlocked).length);
    const francs = await page(tree, '/countries/?q=franc');
    const withFranc = (country: Country) =>
      [name(country), ...Object.values(country.currencies).map((one) => one.name)].some((words) =>
        /(^|[^\p{L}])franc/iu.test(words),
      );
    const paid = countries.filter(
      (country) => withFranc(country) || Object.keys(country.currencies).some((code) => /^franc/i.test(code)),
    );
    expect(headings(francs)).toEqual(named(alphabetic(paid)));
  });
});
