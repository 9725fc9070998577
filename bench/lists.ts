import type { VisitorSettings } from '../src/lib/core/schema/loop';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { select } from '../src/lib/server/database/connect';
import { changeRecord } from '../src/lib/server/services/records';
import { clearResults, clearReadCache } from '../src/lib/server/queries/read-cache';
import { release } from '../src/lib/server/services/releases';
import { createTemplate, deleteTemplate } from '../src/lib/server/services/templates';
import { answer } from '../src/lib/server/site/respond';
import { compare, fillBoth, median, SIZES, type Size } from './support/fill';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/**
 * Pages of lists: a loop of 100 records over 1,000 and over 100,000 (aim: at most 1.5 times), page 1,000 of an archive
 * beside page 1 (aim: at most 1.5 times), and what visitors' choices cost beside the page without them (aim: at most 3 times).
 */
await fillBoth();

/** As for the first visitor: nothing is kept from before. */
const first = (address: string) => {
  clearReadCache();
  return get(address);
};
const get = (address: string) => {
  const url = new URL(address, 'http://a.example');
  const asked = Object.fromEntries([...url.searchParams].map(([key, value]) => [key, [value]]));
  return answer(url.pathname, { base: '', origin: url.origin }, asked);
};
const order = (step: string, down = false) => ({ steps: [step], down });

/** A template for both types, with one loop over the archive. */
async function templates(props: (name: Size) => object, filters = false): Promise<() => Promise<void>> {
  const made = await Promise.all(
    (Object.keys(SIZES) as Size[]).map((name) =>
      createTemplate({
        name,
        purpose: 'archive',
        typeId: name,
        tree: treeFrom({
          kind: 'box',
          children: [
            ...(filters ? [{ kind: 'filters' }] : []),
            {
              kind: 'loop',
              id: 'l',
              props: { source: { from: 'archive' }, ...props(name) },
              children: [
                {
                  kind: 'heading',
                  props: { level: 2 },
                  slots: { text: boundTo('loop:l', ['@title']), link: boundTo('loop:l', ['@address']) },
                },
                { kind: 'text', slots: { text: boundTo('loop:l', [`${name}_line`]) } },
              ],
            },
          ],
        }),
      }),
    ),
  );
  await release();
  return async () => {
    for (const { id } of made) await deleteTemplate(id);
  };
}

const ROUNDS = 40;
console.log(`\nMedian of ${ROUNDS} rounds by turns. A loop of 100:`);
const is = (name: string, test: string, step: string, operand: unknown) => ({
  group: 'all',
  rules: [{ test, path: { from: 'loop:l', steps: [step.startsWith('@') ? step : `${name}_${step}`] }, operand }],
});
const loops: [string, (name: Size) => object][] = [
  ['by title', () => ({ order: [order('@title')] })],
  ['by height downwards', (name) => ({ order: [order(`${name}_height`, true)] })],
  ['by state and then by day', (name) => ({ order: [order(`${name}_state`), order(`${name}_day`)] })],
  [
    'of what is open, by title',
    (name) => ({ order: [order('@title')], filter: is(name, 'choice.is', 'state', 'open') }),
  ],
  ['by a related record’s height', (name) => ({ order: [{ steps: [`${name}_kin`, `${name}_height`], down: false }] })],
  [
    'whose related record is open, by title',
    (name) => ({
      order: [order('@title')],
      filter: {
        group: 'all',
        rules: [
          {
            test: 'choice.is',
            path: { from: 'loop:l', steps: [`${name}_kin`, `${name}_state`] },
            operand: 'open',
          },
        ],
      },
    }),
  ],
  [
    'of one region and below, by day',
    (name) => ({
      order: [order(`${name}_day`)],
      filter: is(name, 'terms.below', `@terms:${name}_area`, [`${name}_t1`]),
    }),
  ],
];
for (const [label, props] of loops) {
  const away = await templates((name) => ({ ...props(name), limit: 100 }));
  await compare(
    label,
    ROUNDS,
    ['at 1,000', () => first('/few-things/')],
    ['at 100,000', () => first('/many-things/')],
    1.5,
  );
  await away();
}

console.log('\nPages of an archive of 100,000, 20 on each:');
for (const [label, props] of loops.slice(0, 3)) {
  const away = await templates((name) => ({ ...props(name), perPage: 20 }));
  await compare(
    label,
    ROUNDS,
    ['page 1', () => first('/many-things/')],
    ['page 1,000', () => first('/many-things/page/1000/')],
    1.5,
  );
  await away();
}

console.log('\nThe same again, nothing having been written meanwhile:');
{
  const away = await templates(() => ({ order: [order('@title')], perPage: 20 }));
  await compare(
    'by title',
    ROUNDS,
    ['page 1', () => get('/many-things/')],
    ['page 1,000', () => get('/many-things/page/1000/')],
  );
  await away();
}

console.log(
  '\nVisitors choose, 20 on a page, of 1,000 and of 100,000; and beside the same list without anything to choose:',
);
const visitors = (name: Size): VisitorSettings => ({
  search: ['@title', `${name}_line`],
  facets: [`@terms:${name}_area`, `${name}_state`, `${name}_height`].map((step) => ({ step, label: '' })),
  sorts: [],
});
const away = await templates(() => ({ order: [order('@title')], perPage: 20 }));
const without = () => first('/many-things/');
const plain = await timesOf(without);
await away();
await templates((name) => ({ order: [order('@title')], perPage: 20, visitors: visitors(name) }), true);
if (!(await without()).html.includes('<fieldset')) throw new Error('There is nothing to choose.');
for (const [label, query] of [
  ['three facets, nothing chosen', ''],
  ['one region', '?many-area=area-1'],
  ['one region and a state', '?many-area=area-1&many-state=open'],
  ['words that 100 have', '?q=about+77'],
  ['words that all have', '?q=line+thing'],
] as const) {
  const few = query.replaceAll('many-', 'few-');
  await compare(
    label,
    ROUNDS,
    ['at 1,000', () => first(`/few-things/${few}`)],
    ['at 100,000', () => first(`/many-things/${query}`)],
  );
  const own = await timesOf(() => first(`/many-things/${query}`));
  console.log(
    `${''.padEnd(44)} ${own.toFixed(2).padStart(8)} ms, without ${plain.toFixed(2)} ms  ratio ${(own / plain).toFixed(2)} (aim: at most 3)`,
  );
}

console.log('\nThe first question after a start, and one after a record was changed:');
{
  const from = performance.now();
  clearResults();
  await first('/many-things/?q=line+thing');
  console.log(`laid out anew: ${(performance.now() - from).toFixed(0)} ms`);
  const { id } = (await select<{ id: number }>("SELECT id FROM records WHERE type_id = 'many' LIMIT 1"))[0]!;
  const times: number[] = [];
  for (let i = 0; i < 10; i++) {
    await changeRecord(id, { title: `Changed ${i}` });
    const began = performance.now();
    await get('/many-things/?q=line+thing');
    times.push(performance.now() - began);
  }
  console.log(
    `after a change: ${median(times).toFixed(1)} ms; memory ${(process.memoryUsage.rss() / 1e6).toFixed(0)} MB`,
  );
}
await server.close();

/** Median of some rounds, in milliseconds. */
async function timesOf(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < 100; i++) {
    const from = performance.now();
    await work();
    if (i >= 20) times.push(performance.now() - from);
  }
  return median(times);
}
