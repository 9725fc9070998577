import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { select } from '../../src/lib/server/database/connect';
import { clearResults } from '../../src/lib/server/queries/read-cache';
import { recordTable } from '../../src/lib/server/services/lists';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase, statementsOf } from '../support/database';
import { field } from '../support/world';
import { generateRecords } from '../support/services';

let drop: () => Promise<void>;
const options = { options: ['a', 'b', 'c'].map((key) => ({ key, label: key })) };
const fields = [
  field('words', 'text'),
  field('number', 'number', { min: 0, max: 100_000 }),
  field('day', 'date'),
  field('hour', 'time'),
  field('moment', 'datetime'),
  field('pick', 'choice', options),
  field('picks', 'choices', options),
  field('yes', 'yesno'),
  field('web', 'link'),
  field('mail', 'email'),
  field('tint', 'colour'),
];

beforeAll(async () => {
  drop = await freshDatabase();
  for (const id of ['thing', 'other']) {
    await saveContentType({
      id,
      key: id,
      name: id,
      plural: `${id}s`,
      base: `${id}s`,
      taxonomyIds: [],
      fields: fields.map((f) => ({ ...f, id: `${id}_${f.id}` })),
    });
    await generateRecords(id, { count: 3000, seed: 3 });
  }
  await select('ANALYZE TABLE records, record_index, record_terms, links, record_counts');
});
afterAll(() => drop());

interface Plan {
  table: string;
  type: string;
  key: string | null;
  Extra: string | null;
}

const readsOf = async (work: () => Promise<unknown>): Promise<string[]> =>
  (await statementsOf(work))
    .map((line) => line.replace(/^Executing \([^)]*\): /, ''))
    .filter((sql) => /^SELECT .*FROM (record_index|record_words|records|\()/.test(sql));

/** How MariaDB goes about statements: each by an index, and none of them reads a table from end to end. */
async function expectIndexed(statements: readonly string[]): Promise<void> {
  for (const sql of statements)
    for (const plan of await select<Plan>(`EXPLAIN ${sql}`))
      if (plan.table && !/^</.test(plan.table))
        expect([sql.slice(0, 200), plan.type === 'ALL', plan.key !== null]).toEqual([sql.slice(0, 200), false, true]);
}

/** What a question asks of the database: where nothing is laid out for it yet, and after that. */
async function expectLaidOut(ask: () => Promise<unknown>): Promise<void> {
  clearResults();
  const first = await readsOf(ask);
  expect(first.length).toBeGreaterThan(1);
  // Of a type all records are read for that; how is the database's choice.
  await expectIndexed(first.filter((sql) => !/FROM records WHERE type_id/.test(sql)));
  // Records by their numbers are all that is left to be read; nothing is put in order, filtered or counted.
  const later = await readsOf(ask);
  expect(
    later.filter((sql) =>
      /ORDER BY|LIMIT|COUNT|record_(index|words)/.test(sql.replace(/ ORDER BY \w+_id, \w*position.*$/, '')),
    ),
  ).toEqual([]);
  await expectIndexed(later);
}

describe('a table of many records', () => {
  const steps = [
    '@title',
    '@created',
    '@changed',
    '@published',
    '@status',
    ...fields.filter((f) => f.kind !== 'choices').map((f) => `thing_${f.id}`),
  ];

  it.each(steps)('is ordered by %s from what is laid out once, both ways', async (step) => {
    for (const down of [false, true])
      await expectLaidOut(() => recordTable('thing', { order: { step, down }, limit: 50, offset: 100 }));
  });

  it.each([
    ['order.gt', 'thing_number', 99_000],
    ['order.between', 'thing_day', ['2026-01-01', '2026-01-31']],
    ['order.lt', 'thing_hour', '06:30'],
    ['choice.is', 'thing_pick', 'a'],
    ['choices.any', 'thing_picks', ['a']],
    ['yesno.yes', 'thing_yes', undefined],
    ['text.is', 'thing_words', 'nothing'],
    ['text.starts', 'thing_web', 'https://fell'],
    ['empty', 'thing_mail', undefined],
    ['filled', 'thing_tint', undefined],
    ['text.starts', '@title', 'upper'],
    ['choice.is', '@status', 'draft'],
  ])('is filtered by %s of %s from what is laid out once', async (test, step, operand) => {
    const filter = {
      group: 'all',
      rules: [{ test, path: { from: 'loop:table', steps: [step] }, ...(operand === undefined ? {} : { operand }) }],
    };
    await expectLaidOut(() => recordTable('thing', { filter, limit: 50 }));
  });

  it('sends as many statements for a late page as for the first', async () => {
    const count = async (offset: number) =>
      (await statementsOf(() => recordTable('thing', { limit: 50, offset }))).length;
    expect(await count(2900)).toBe(await count(0));
  });
});
