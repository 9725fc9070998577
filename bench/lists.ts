import type { VisitorSettings } from '../src/lib/core/schema/loop';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { closeDatabase } from '../src/lib/server/database/connect';
import { forgetKept } from '../src/lib/server/queries/kept';
import { release } from '../src/lib/server/services/releases';
import { createTemplate, deleteTemplate } from '../src/lib/server/services/templates';
import { answer } from '../src/lib/server/site/respond';
import { compare, fillBoth, SIZES, type Size } from './support/fill';

/**
 * Pages of lists: a loop of 100 records over 1,000 and over 100,000 (aim: at most 1.5 times), page 1,000 of an archive
 * beside page 1 (aim: at most 3 times), and what visitors' choices cost.
 */
await fillBoth();

/** As for the first visitor: nothing is kept from before. */
const first = (address: string) => {
  forgetKept();
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
  await compare(label, ROUNDS, ['at 1,000', () => first('/few-things/')], ['at 100,000', () => first('/many-things/')]);
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

console.log('\nVisitors choose of 100,000, 20 on a page:');
const visitors = (name: Size): VisitorSettings => ({
  search: ['@title', `${name}_line`],
  facets: [`@terms:${name}_area`, `${name}_state`, `${name}_height`].map((step) => ({ step, label: '' })),
  sorts: [],
});
const plain = await templates(() => ({ order: [order('@title')], perPage: 20 }));
const without = async () => first('/many-things/');
for (let i = 0; i < 5; i++) await without();
const from = performance.now();
for (let i = 0; i < 10; i++) await without();
console.log(`without anything to choose: ${((performance.now() - from) / 10).toFixed(1)} ms`);
await plain();
await templates((name) => ({ order: [order('@title')], perPage: 20, visitors: visitors(name) }), true);
for (const [label, query] of [
  ['three facets, nothing chosen', ''],
  ['one region', '?many-area=area-1'],
  ['one region and a state', '?many-area=area-1&many-state=open'],
  ['words that 100 have', '?q=about+77'],
  ['words that all have', '?q=line+thing'],
] as const)
  await compare(
    label,
    10,
    ['at 1,000', () => first(`/few-things/${query.replaceAll('many', 'few')}`)],
    ['at 100,000', () => first(`/many-things/${query}`)],
  );
await closeDatabase();
