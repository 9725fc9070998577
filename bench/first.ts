import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { release } from '../src/lib/server/services/releases';
import { fillRates } from '../src/lib/server/services/type-uses';
import { createTemplate } from '../src/lib/server/services/templates';
import { fillOne, median } from './support/fill';
import { pagesWithList } from './support/page';
import { startSite } from './support/site';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/**
 * What the first visitor of each kind of list waits after a start, beside the hundredth (aim: at most 3 times): an archive and
 * a page far down, a term, a year, lists that visitors search and filter, full text. Pages are not kept, so that each is drawn.
 * Left out: the start itself, and what lies between the machine and a visitor.
 */
const RECORDS = Number(process.env.PLUM_BENCH_ROWS ?? 100_000);
await fillOne('many', RECORDS);
await pagesWithList(12);
await createTemplate({
  name: 'Things',
  purpose: 'archive',
  serves: [{ on: 'type', typeId: 'many' }],
  tree: treeFrom({
    kind: 'box',
    children: [
      { kind: 'filters', props: { loopId: 'list' } },
      {
        kind: 'loop',
        id: 'list',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@title'], down: false }],
          perPage: 20,
          visitors: {
            search: ['@title', 'many_story'],
            facets: [{ step: 'many_state' }, { step: 'many_tags' }, { step: '@terms:many_area' }],
          },
        },
        children: [
          {
            kind: 'heading',
            slots: { text: boundTo('loop:list', ['@title']), link: boundTo('loop:list', ['@address']) },
          },
          { kind: 'text', slots: { text: boundTo('loop:list', ['many_about']) } },
        ],
      },
    ],
  }),
});
await release();
const fillStart = performance.now();
const { fields } = await fillRates('many');
console.log(
  `how many have a value, asked first: ${((performance.now() - fillStart) / 1000).toFixed(2)} s for ${Object.keys(fields).length} fields`,
);

const began = performance.now();
const { site, child } = await startSite({ PLUM_KEPT_PAGES: '0' }, '/readyz');
console.log(
  `ready after ${((performance.now() - began) / 1000).toFixed(1)} s, with ${RECORDS.toLocaleString('en')} records`,
);
/** Each time another address of its kind, so that nothing of the page itself is at hand. */
const KINDS: [string, (n: number) => string][] = [
  ['an archive', (n) => `/many-things/page/${n + 1}/`],
  ['far down', (n) => `/many-things/page/${RECORDS / 25 - n}/`],
  ['a term', (n) => `/many-area/area-${n % 25}/page/${1 + (n % 5)}/`],
  ['a year', (n) => `/many-things/${new Date().getFullYear()}/page/${n + 1}/`],
  ['a choice', (n) => `/many-things/page/${n + 1}/?many-state=open`],
  ['a search in a list', (n) => `/many-things/?q=word${n}`],
  ['full text', (n) => `/search/?q=word${n + 200}`],
];
for (const [label, at] of KINDS) {
  const times: number[] = [];
  let [status, sum] = [0, 0];
  for (let n = 0; n < 101; n++) {
    const from = performance.now();
    const answer = await fetch(site + at(n));
    sum += (await answer.text()).length;
    times.push(performance.now() - from);
    if (n === 0) status = answer.status;
  }
  const [first, ...others] = times as [number, ...number[]];
  const usual = median(others);
  console.log(
    `${label.padEnd(20)} ${status} ${(sum / 101 / 1000).toFixed(0).padStart(4)} kB  first ${first.toFixed(0).padStart(6)} ms  usually ${usual.toFixed(1).padStart(7)} ms  ratio ${(first / usual).toFixed(1)} (aim: at most 3)`,
  );
}
child.kill('SIGTERM');
await server.close();
