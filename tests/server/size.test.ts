import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { select } from '../../src/lib/server/database/connect';
import { recordTable } from '../../src/lib/server/services/lists';
import { generateRecords } from '../../src/lib/server/services/generate';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase, statementsOf } from '../support/database';
import { field } from '../support/world';

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
  rows: string | number;
  Extra: string | null;
}

/** How MariaDB goes about the statements that `work` sends and that read records. */
async function plansOf(work: () => Promise<unknown>): Promise<Plan[]> {
  const seen = (await statementsOf(work))
    .map((line) => line.replace(/^Executing \([^)]*\): /, ''))
    .filter((sql) => /^SELECT .*FROM (record_index|records|\()/.test(sql));
  expect(seen.length).toBeGreaterThan(0);
  const plans: Plan[] = [];
  for (const sql of seen) plans.push(...(await select<Plan>(`EXPLAIN ${sql}`)));
  return plans;
}
const reads = (plans: Plan[]) => plans.filter((plan) => plan.table && !/^<|counted/.test(plan.table));

describe('a table of many records', () => {
  const steps = [
    '@title',
    '@created',
    '@changed',
    '@published',
    '@status',
    ...fields.filter((f) => f.kind !== 'choices').map((f) => `thing_${f.id}`),
  ];

  it.each(steps)('is ordered by %s along an index, both ways, without sorting', async (step) => {
    for (const down of [false, true]) {
      const plans = await plansOf(() => recordTable('thing', { order: { step, down }, limit: 50, offset: 100 }));
      const ordered = plans.find((plan) => plan.table === 'o0');
      expect(ordered?.key).toMatch(/^(numbers|sorts)(_down)?$/);
      expect(ordered?.Extra ?? '').not.toMatch(/filesort|temporary/);
      for (const plan of reads(plans))
        expect([plan.table, plan.type === 'ALL', plan.key !== null]).toEqual([plan.table, false, true]);
    }
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
  ])('is filtered by %s of %s through an index', async (test, step, operand) => {
    const filter = {
      group: 'all',
      rules: [{ test, path: { from: 'loop:table', steps: [step] }, ...(operand === undefined ? {} : { operand }) }],
    };
    const plans = await plansOf(() => recordTable('thing', { filter, limit: 50 }));
    for (const plan of reads(plans))
      expect([plan.table, plan.type === 'ALL', plan.key !== null]).toEqual([plan.table, false, true]);
  });

  it('sends as many statements for a late page as for the first', async () => {
    const count = async (offset: number) =>
      (await statementsOf(() => recordTable('thing', { limit: 50, offset }))).length;
    expect(await count(2900)).toBe(await count(0));
  });
});
