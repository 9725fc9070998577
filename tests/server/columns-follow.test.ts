import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { clearResults } from '../../src/lib/server/queries/read-cache';
import { runImport } from '../../src/lib/server/exchange/import-run';
import { deleteAuthor } from '../../src/lib/server/services/authors';
import { removeGenerated } from '../../src/lib/server/services/generate';
import { findTitles, listRecords, recordTable } from '../../src/lib/server/services/lists';
import { readModel } from '../../src/lib/server/services/model';
import { deleteRecords, undoRemoval } from '../../src/lib/server/services/record-removal';
import { changeRecord, createRecord, publishDue } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { deleteTaxonomy, deleteTerm, mergeTerms } from '../../src/lib/server/services/taxonomies';
import { deleteContentType, saveContentType } from '../../src/lib/server/services/types';
import { answer } from '../../src/lib/server/site/respond';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { run } from '../../src/lib/server/database/connect';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { changeRecords, generateRecords, saveAuthor } from '../support/services';

/**
 * Whatever writes records, their values, terms or links says so: what columns in memory say after each operation is what
 * they say when they are filled anew from the database.
 */
let drop: () => Promise<void>;
let authorId = 0;
const houses: number[] = [];
const people: number[] = [];
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-follow-'));

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  authorId = (await saveAuthor({ name: 'Ada Fell', slug: 'ada-fell' })).id;
  for (let i = 0; i < 5; i++)
    people.push((await createRecord('person', { title: `Person ${i}`, status: 'published', values: { age: i } })).id);
  for (let i = 0; i < 14; i++)
    houses.push(
      (
        await createRecord('house', {
          title: `House ${(i * 5) % 14}`,
          status: i % 6 === 5 ? 'draft' : 'published',
          authorId: i % 2 ? authorId : null,
          terms: [[], ['north'], ['hill'], ['peak', 'south']][i % 4],
          values: { height: i % 3 ? i : null, state: ['good', 'fair', null][i % 3], keeper: [people[i % 5]] },
        })
      ).id,
    );
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await drop();
});

const titles = async (settings: object, drafts: boolean) =>
  (await listRecords(settings, { drafts })).records.map(({ title }) => title);
const of = (typeId: string, steps: string[], take?: string) => ({
  source: { from: 'query', typeIds: [typeId] },
  order: [{ steps, take, down: false }],
});
const filtered = (steps: string[], test: string, operand: unknown) => ({
  ...of('house', ['@title']),
  filter: { group: 'all', rules: [{ test, path: { from: 'loop:list', steps }, operand }] },
});

/** What lists, counts, searches and tables say now; a list that the model has no more says that. */
async function said(): Promise<unknown[]> {
  const asks: (() => Promise<unknown>)[] = [
    ...[false, true].flatMap((drafts) => [
      () => titles(of('house', ['@title']), drafts),
      () => titles(of('house', ['height']), drafts),
      () => titles(of('house', ['keeper', '@title']), drafts),
      () => titles(of('person', ['keeps'], 'count'), drafts),
      () => titles(of('house', ['ways'], 'count'), drafts),
      () => titles(filtered(['@terms:area'], 'terms.below', ['north']), drafts),
      () => titles(filtered(['state'], 'choice.is', 'good'), drafts),
      () => titles(filtered(['keeper'], 'filled', undefined), drafts),
      () => titles(filtered(['keeper', 'age'], 'order.gt', 2), drafts),
    ]),
    async () => (await recordTable('house', { order: { step: '@changed', down: true } })).records.map(({ id }) => id),
    () => findTitles(['house', 'person', 'way'], 'o'),
    ...['/houses/', '/area/north/', '/area/south/', '/author/ada-fell/', '/search/?q=house', '/search/?q=changed'].map(
      (address) => async () => {
        const url = new URL(address, 'http://a.example');
        const asked = { q: url.searchParams.getAll('q') };
        return (await answer(url.pathname, { base: '', which: 'draft', origin: url.origin }, asked)).html;
      },
    ),
  ];
  const out: unknown[] = [];
  for (const ask of asks) out.push(await ask().catch((error: unknown) => (error as Error).message));
  return out;
}

const removals: string[] = [];
const keep = async (work: Promise<{ removal: string }>) => void removals.push((await work).removal);
const undo = () => undoRemoval(removals.pop() as string);
const imported = async (existing: 'add' | 'update', rows: string[], allOrNothing = true) => {
  const path = join(folder, 'rows.csv');
  writeFileSync(path, ['title,slug,height,keeper', ...rows].join('\n'));
  const model = await readModel();
  const targets = { title: '@title', slug: '@slug', height: 'height', keeper: 'keeper' };
  const progress = { signal: new AbortController().signal, report: () => undefined };
  const file = { path, name: 'rows.csv', format: 'csv' as const };
  const settings = { targets, existing, allOrNothing, dry: false };
  return runImport(file, { type: model.type('house')!, model }, settings, progress);
};

/** One after the other, each on what those before it left. */
const OPERATIONS: [string, () => Promise<unknown>][] = [
  ['a new record', () => createRecord('house', { title: 'New', status: 'published', values: { height: 3 } })],
  ['another title', () => changeRecord(houses[0]!, { title: 'Changed house' })],
  ['another value', () => changeRecord(houses[1]!, { values: { height: 99, state: 'good' } })],
  ['a value that goes', () => changeRecord(houses[1]!, { values: { height: null } })],
  ['other terms', () => changeRecord(houses[2]!, { terms: ['south'] })],
  ['another author', () => changeRecord(houses[3]!, { authorId: null })],
  ['a draft that it becomes', () => changeRecord(houses[4]!, { status: 'draft' })],
  ['a link', () => changeRecord(houses[6]!, { values: { keeper: [people[4]] } })],
  ['links from the other side', () => changeRecord(people[2]!, { values: { keeps: [houses[7], houses[8]] } })],
  ['a related record as a draft', () => changeRecord(people[4]!, { status: 'draft' })],
  ['a value of a related record', () => changeRecord(people[1]!, { values: { age: 70 }, title: 'Aged' })],
  ['many published', () => keep(changeRecords({ ids: houses, status: 'published' }))],
  ['many filed', () => keep(changeRecords({ ids: houses.slice(0, 5), addTerms: ['hill'], takeTerms: ['south'] }))],
  ['many with an author', () => keep(changeRecords({ ids: houses.slice(3, 9), authorId }))],
  ['that taken back', undo],
  ['records deleted', () => keep(deleteRecords([houses[0]!, houses[6]!, people[3]!]))],
  ['and put back', undo],
  ['a term merged', () => keep(mergeTerms('hill', 'south'))],
  ['and parted', undo],
  ['a term deleted', () => keep(deleteTerm('peak', { records: 'north' }))],
  ['and put back again', undo],
  ['an author deleted', () => keep(deleteAuthor(authorId))],
  ['and brought back', undo],
  ['records made up', () => generateRecords('house', { count: 12, seed: 7 })],
  ['and taken out', () => keep(removeGenerated('house'))],
  [
    'a moment that has come',
    async () => {
      const later = new Date(Date.now() + 3_600_000).toISOString();
      const { id } = await createRecord('house', { title: 'Later', status: 'scheduled', published: later, values: {} });
      await said();
      await run('UPDATE records SET published = NOW() - INTERVAL 1 MINUTE WHERE id = ?', [id]);
      expect(await publishDue()).toBe(1);
    },
  ],
  [
    'rows that come in',
    async () => {
      expect((await imported('add', ['In one,in-one,5,Aged', 'In two,in-two,,Person 0'])).added).toBe(2);
    },
  ],
  [
    'rows that change records',
    async () => {
      expect((await imported('update', ['In more,in-one,-4,Person 2', 'In two,in-two,8,'])).updated).toBe(2);
    },
  ],
  [
    'rows of which one is refused',
    async () => {
      const result = await imported('update', ['In last,in-one,6,', 'In none,in-two,no number,'], false);
      expect([result.updated, result.refused]).toEqual([1, 1]);
    },
  ],
  [
    'a field of another kind',
    async () => {
      const house = (await readModel()).type('house')!;
      const fields = house.fields.map((one) => (one.id === 'height' ? { ...one, kind: 'text', settings: {} } : one));
      await saveContentType({ ...house, fields });
    },
  ],
  ['a release of it', () => release()],
  [
    'a field that goes',
    async () => {
      const house = (await readModel()).type('house')!;
      await saveContentType({ ...house, fields: house.fields.filter(({ id }) => id !== 'state') });
    },
  ],
  ['a taxonomy deleted', () => keep(deleteTaxonomy('area'))],
  ['a taxonomy put back', undo],
  ['a type deleted', () => keep(deleteContentType('person'))],
  ['a type put back', undo],
];

describe('columns follow', () => {
  it.each(OPERATIONS)('%s', async (_, operation) => {
    const before = await said();
    await operation();
    const held = await said();
    clearResults();
    const anew = await said();
    expect(held).toEqual(anew);
    expect(before).toHaveLength(held.length);
  });
});
