import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { listRecords } from '../../src/lib/server/services/lists';
import { saveContentType } from '../../src/lib/server/services/types';
import { createRecord } from '../../src/lib/server/services/records';
import { createTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveTaxonomy, saveTerm } from '../support/services';

/**
 * Real input: the table of airports that the `vega-datasets` package carries (`data/airports.csv`; code, name, city,
 * state, country, latitude, longitude). Every figure below is computed straight from the file.
 */
interface Airport {
  iata: string;
  name: string;
  city: string;
  state: string;
  latitude: number;
}

function readAirports(): Airport[] {
  const file = join(
    dirname(createRequire(import.meta.url).resolve('vega-datasets/package.json')),
    'data',
    'airports.csv',
  );
  return readFileSync(file, 'utf8')
    .trim()
    .split(/\r?\n/)
    .slice(1)
    .map((line) => {
      // Quoted cells hold commas here, but no quotes.
      const cells = [...line.matchAll(/(?:^|,)(?:"([^"]*)"|([^,]*))/g)].map((match) => match[1] ?? match[2] ?? '');
      return { iata: cells[0]!, name: cells[1]!, city: cells[2]!, state: cells[3]!, latitude: Number(cells[5]) };
    });
}

const airports = readAirports();
const states = [...new Set(airports.map((airport) => airport.state))].sort();
let drop: () => Promise<void>;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveTaxonomy({ id: 'state', key: 'state', name: 'State', tree: true });
  await saveTerm({ id: 'all', taxonomyId: 'state', parentId: null, name: 'All states', slug: 'all', position: 0 });
  for (const [i, state] of states.entries())
    await saveTerm({
      id: `s-${state || 'none'}`,
      taxonomyId: 'state',
      parentId: 'all',
      name: state || 'None',
      slug: `s-${i}`,
      position: i,
    });
  await saveContentType({
    id: 'airport',
    key: 'airport',
    name: 'Airport',
    plural: 'Airports',
    base: 'airports',
    taxonomyIds: ['state'],
    fields: [
      { id: 'iata', key: 'iata', label: 'Code', kind: 'text' },
      { id: 'city', key: 'city', label: 'City', kind: 'text' },
      { id: 'latitude', key: 'latitude', label: 'Latitude', kind: 'number' },
    ],
  });
  const queue = [...airports];
  await Promise.all(
    Array.from({ length: 8 }, async () => {
      for (let airport = queue.shift(); airport; airport = queue.shift())
        await createRecord('airport', {
          title: airport.name,
          status: 'published',
          terms: [`s-${airport.state || 'none'}`],
          values: { iata: airport.iata, city: airport.city, latitude: airport.latitude },
        });
    }),
  );
  await createTemplate({
    name: 'Airports from the north',
    purpose: 'archive',
    typeId: 'airport',
    tree: treeFrom({
      kind: 'loop',
      id: 'a',
      props: {
        source: { from: 'archive' },
        order: [
          { steps: ['latitude'], down: true },
          { steps: ['iata'], down: false },
        ],
        perPage: 50,
      },
      children: [
        { kind: 'heading', props: { level: 2 }, slots: { text: boundTo('loop:a', ['iata']) } },
        {
          kind: 'text',
          slots: {
            text: boundTo('loop:a', ['latitude'], { formats: [{ format: 'number', options: { decimals: 3 } }] }),
          },
        },
        {
          kind: 'text',
          props: { tone: 'badge' },
          slots: { text: { fixed: 'Arctic' } },
          rule: {
            group: 'all',
            rules: [{ test: 'order.gt', path: { from: 'loop:a', steps: ['latitude'] }, operand: 66.5 }],
          },
        },
      ],
    }),
  });
});
afterAll(() => drop());

const query = (rules: unknown[], more: object = {}) =>
  listRecords(
    { source: { from: 'query', typeIds: ['airport'] }, filter: { group: 'all', rules }, ...more },
    { drafts: false },
  );
const rule = (test: string, steps: string[], operand?: unknown) => ({
  test,
  path: { from: 'loop:list', steps },
  operand,
});
const site = async (path: string) =>
  (await answer(path, { base: '', which: 'draft', origin: 'http://a.example' })) as { status: number; html: string };

describe('three thousand airports', () => {
  it('are all there', async () => {
    expect(airports.length).toBeGreaterThan(3000);
    expect((await query([], { limit: 1 })).total).toBe(1);
    expect((await query([])).total).toBe(airports.length);
  });

  it('are counted by rules as the file counts them', async () => {
    expect((await query([rule('order.gt', ['latitude'], 60)])).total).toBe(
      airports.filter((a) => a.latitude > 60).length,
    );
    expect((await query([rule('order.between', ['latitude'], [30, 40])])).total).toBe(
      airports.filter((a) => a.latitude >= 30 && a.latitude <= 40).length,
    );
    expect((await query([rule('text.contains', ['@title'], 'INTERNATIONAL')])).total).toBe(
      airports.filter((a) => a.name.toLowerCase().includes('international')).length,
    );
    expect((await query([rule('text.starts', ['city'], 'san ')])).total).toBe(
      airports.filter((a) => a.city.toLowerCase().startsWith('san ')).length,
    );
    expect((await query([rule('terms.any', ['@terms:state'], ['s-AK', 's-HI'])])).total).toBe(
      airports.filter((a) => ['AK', 'HI'].includes(a.state)).length,
    );
    expect((await query([rule('terms.below', ['@terms:state'], ['all'])])).total).toBe(airports.length);
    expect((await query([rule('terms.none', ['@terms:state'], ['s-TX'])])).total).toBe(
      airports.filter((a) => a.state !== 'TX').length,
    );
    expect((await query([rule('text.is', ['city'], 'springfield')])).records.map((r) => r.values.iata).sort()).toEqual(
      airports
        .filter((a) => a.city.toLowerCase() === 'springfield')
        .map((a) => a.iata)
        .sort(),
    );
  });

  it('stand in the order of the file’s figures, page by page', async () => {
    const sorted = [...airports].sort(
      (a, b) => b.latitude - a.latitude || new Intl.Collator('en').compare(a.iata, b.iata),
    );
    const pages = Math.ceil(airports.length / 50);
    for (const page of [1, 2, Math.floor(pages / 2), pages]) {
      const { status, html } = await site(page === 1 ? '/airports/' : `/airports/page/${page}/`);
      expect(status).toBe(200);
      expect([...html.matchAll(/<h2>([^<]*)<\/h2>/g)].map((m) => m[1])).toEqual(
        sorted.slice((page - 1) * 50, page * 50).map((a) => a.iata),
      );
    }
    expect((await site(`/airports/page/${pages + 1}/`)).status).toBe(404);
  });

  it('show values and rule results as the file has them', async () => {
    const sorted = [...airports].sort((a, b) => b.latitude - a.latitude);
    const { html } = await site('/airports/');
    const printed = [...html.matchAll(/<p class="text">([^<]*)<\/p>/g)].map((m) => m[1]);
    expect(printed).toEqual(
      sorted
        .slice(0, 50)
        .map((a) => a.latitude.toLocaleString('en-GB', { minimumFractionDigits: 3, maximumFractionDigits: 3 })),
    );
    expect(html.match(/Arctic/g)).toHaveLength(sorted.slice(0, 50).filter((a) => a.latitude > 66.5).length);
  });

  it('have a page each, a plain readable one without a template', async () => {
    const { records } = await query([rule('text.is', ['iata'], 'JFK')]);
    const { status, html } = await site(`/airports/${records[0]?.slug}`);
    expect(status).toBe(200);
    expect(html).toContain('<p class="text">City: New York</p>');
    expect(html).toMatch(/<span>State<\/span><ul><li><a href="\/state\/s-\d+\/">NY<\/a><\/li><\/ul>/);
  });
});
