import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { inTransaction, run, select } from '../src/lib/server/database/connect';
import { touchEverything } from '../src/lib/server/database/touched';
import { clearResults, clearReadCache } from '../src/lib/server/queries/read-cache';
import { release } from '../src/lib/server/services/releases';
import { createTemplate, deleteTemplate } from '../src/lib/server/services/templates';
import { answer } from '../src/lib/server/site/respond';
import { fillOne, median, SIZES } from './support/fill';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer({ columnBytes: Number(process.env.PLUM_COLUMNS ?? 12_000) * 1_000_000 });

/**
 * Lists of a million records beside a hundred thousand (aim: at most twice as long). Run by its name alone: npm run bench -- million.
 * Takes a quarter of an hour, and 6 GB of memory.
 */
const ROUNDS = 30;
const TIMES = Number(process.env.PLUM_BENCH_TIMES ?? 10);
const order = (step: string, down = false) => ({ steps: [step], down });
const is = (test: string, steps: string[], operand: unknown) => ({
  group: 'all',
  rules: [{ test, path: { from: 'loop:l', steps }, operand }],
});
const facets = ['@terms:many_area', 'many_state', 'many_height'].map((step) => ({ step, label: '' }));
const visitors = { search: ['@title', 'many_line'], facets, sorts: [] };
const LISTS: [string, object, string][] = [
  ['by title', { order: [order('@title')], limit: 100 }, ''],
  ['by height downwards', { order: [order('many_height', true)], limit: 100 }, ''],
  ['by state and then by day', { order: [order('many_state'), order('many_day')], limit: 100 }, ''],
  [
    'of what is open, by title',
    { order: [order('@title')], limit: 100, filter: is('choice.is', ['many_state'], 'open') },
    '',
  ],
  ['by a related record’s height', { order: [{ steps: ['many_kin', 'many_height'], down: false }], limit: 100 }, ''],
  [
    'of one region and below, by day',
    { order: [order('many_day')], limit: 100, filter: is('terms.below', ['@terms:many_area'], ['many_t1']) },
    '',
  ],
  ['page 1,000 by title', { order: [order('@title')], perPage: 20 }, 'page/1000/'],
  ['three facets', { order: [order('@title')], perPage: 20, visitors }, ''],
  [
    'three facets, one region and a state',
    { order: [order('@title')], perPage: 20, visitors },
    '?many-area=area-1&many-state=open',
  ],
  ['words that many have', { order: [order('@title')], perPage: 20, visitors }, '?q=about+77'],
  ['words that all have', { order: [order('@title')], perPage: 20, visitors }, '?q=line+thing'],
];

const get = (address: string) => {
  const url = new URL(address, 'http://a.example');
  const asked = Object.fromEntries([...url.searchParams].map(([key, value]) => [key, [value]]));
  return answer(url.pathname, { base: '', origin: url.origin }, asked);
};

/** Milliseconds of each list, as for a visitor for whom nothing is kept from before. */
async function measured(): Promise<number[]> {
  const out: number[] = [];
  for (const [, props, more] of LISTS) {
    const { id } = await createTemplate({
      name: 'Many',
      purpose: 'archive',
      typeId: 'many',
      tree: treeFrom({
        kind: 'box',
        children: [
          ...('visitors' in props ? [{ kind: 'filters' }] : []),
          {
            kind: 'loop',
            id: 'l',
            props: { source: { from: 'archive' }, ...props },
            children: [{ kind: 'heading', props: { level: 2 }, slots: { text: boundTo('loop:l', ['@title']) } }],
          },
        ],
      }),
    });
    await release();
    const times: number[] = [];
    for (let i = 0; i < ROUNDS + 5; i++) {
      clearReadCache();
      const from = performance.now();
      const { status } = await get(`/many-things/${more}`);
      if (status !== 200) throw new Error(`There is no page: ${more}`);
      if (i >= 5) times.push(performance.now() - from);
    }
    out.push(median(times));
    await deleteTemplate(id);
  }
  return out;
}

/** Puts each record in so many times in all, with everything that follows from its values. */
async function multiply(times: number): Promise<void> {
  const [{ most } = { most: 0 }] = await select<{ most: number }>('SELECT MAX(id) AS most FROM records');
  const copies: [string, string, Record<string, string>][] = [
    ['records', 'id', { slug: "CONCAT(slug, '-', ?)", title: "CONCAT(title, ' ', ?)" }],
    ['record_index', 'record_id', {}],
    ['record_terms', 'record_id', {}],
    ['record_words', 'record_id', {}],
  ];
  for (const [table, key, changed] of copies) {
    const all = await select<{ c: string }>(
      'SELECT column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? AND extra NOT LIKE ?',
      [table, '%GENERATED%'],
    );
    const columns = all.map(({ c }) => `\`${c}\``).join(', ');
    for (let n = 1; n < times; n++) {
      const values: unknown[] = [];
      const from = all.map(({ c }) => {
        if (c === key) {
          values.push(n * most);
          return `\`${c}\` + ?`;
        }
        const set = changed[c];
        if (set) values.push(n);
        return set ?? `\`${c}\``;
      });
      await run(`INSERT INTO ${table} (${columns}) SELECT ${from.join(', ')} FROM ${table} WHERE ${key} <= ?`, [
        ...values,
        most,
      ]);
    }
  }
  for (let n = 1; n < times; n++)
    await run(
      'INSERT INTO links (relation_id, a_id, b_id, a_position, b_position) SELECT relation_id, a_id + ?, b_id + ?, a_position, b_position FROM links WHERE a_id <= ?',
      [n * most, n * most, most],
    );
  await run('UPDATE record_counts SET n = n * ?', [times]);
  await select('ANALYZE TABLE records, record_index, record_counts, record_terms, record_words');
  await inTransaction((transaction) => Promise.resolve(touchEverything(transaction)));
  clearResults();
}

const said = (n: number) => n.toLocaleString('en');
await fillOne('many', SIZES.many);
const few = await measured();
await multiply(TIMES);
const from = performance.now();
clearResults();
await get('/many-things/');
console.log(
  `Laid out anew for ${said(SIZES.many * TIMES)}: ${((performance.now() - from) / 1000).toFixed(1)} s for the first page`,
);
const many = await measured();
for (const [i, [label]] of LISTS.entries())
  console.log(
    `${label.padEnd(40)} ${few[i]!.toFixed(2).padStart(8)} ms at ${said(SIZES.many)}  ${many[i]!.toFixed(2).padStart(8)} ms at ${said(SIZES.many * TIMES)}  ratio ${(many[i]! / few[i]!).toFixed(2)} (aim: at most 2)`,
  );
console.log(`memory ${(process.memoryUsage.rss() / 1e6).toFixed(0)} MB`);
await server.close();
