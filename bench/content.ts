import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { runImport } from '../src/lib/server/exchange/import-run';
import { recordTable } from '../src/lib/server/services/lists';
import { readModel } from '../src/lib/server/services/model';
import { release } from '../src/lib/server/services/releases';
import { createTemplate } from '../src/lib/server/services/templates';
import { saveContentType } from '../src/lib/server/services/types';
import { answer } from '../src/lib/server/site/respond';
import { compare, field, fillBoth, SIZES, type Size } from './support/fill';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/** The same screens and pages over 1,000 and 100,000 records of one type, side by side on one database. */
await fillBoth();
for (const name of Object.keys(SIZES))
  await createTemplate({
    name,
    purpose: 'archive',
    typeId: name,
    tree: treeFrom({
      kind: 'loop',
      id: 'l',
      props: { source: { from: 'archive' }, order: [{ steps: [`${name}_height`], down: true }], perPage: 50 },
      children: [
        {
          kind: 'heading',
          props: { level: 2 },
          slots: { text: boundTo('loop:l', ['@title']), link: boundTo('loop:l', ['@address']) },
        },
      ],
    }),
  });

await release();

const test = (name: string, test: string, step: string, operand: unknown) => ({
  group: 'all',
  rules: [{ test, path: { from: 'loop:table', steps: [`${name}_${step}`] }, operand }],
});
const pages: [string, (name: Size) => Promise<unknown>][] = [
  ['table by title, page 1', (name) => recordTable(name, { limit: 50 })],
  [
    'table by height, downwards',
    (name) => recordTable(name, { limit: 50, order: { step: `${name}_height`, down: true } }),
  ],
  [
    'table by day, page 10',
    (name) => recordTable(name, { limit: 50, offset: 450, order: { step: `${name}_day`, down: false } }),
  ],
  [
    'table of the open ones by title',
    (name) => recordTable(name, { limit: 50, filter: test(name, 'choice.is', 'state', 'open') }),
  ],
  [
    'table of one line in a thousand',
    (name) => recordTable(name, { limit: 50, filter: test(name, 'text.is', 'line', 'a line about 7') }),
  ],
  ['archive on the site, page 1', (name) => answer(`/${name}-things/`, { base: '', origin: 'http://a.example' })],
];
const ROUNDS = 60;
console.log(`\nMedian of ${ROUNDS} rounds, both sizes by turns:`);
for (const [label, page] of pages)
  await compare(label, ROUNDS, ['at 1,000', () => page('few')], ['at 100,000', () => page('many')]);

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-bench-'));
const file = join(folder, 'rows.csv');
await new Promise<void>((done) => {
  const out = createWriteStream(file);
  out.write('title,in_height,in_line\n');
  for (let i = 0; i < 50_000; i++)
    out.write(`Row ${i},${i % 4000},"A line, with a comma and ""quotes"" number ${i}"\n`);
  out.end(() => done());
});
await saveContentType({
  id: 'in',
  key: 'in',
  name: 'In',
  plural: 'Ins',
  base: 'ins',
  taxonomyIds: [],
  fields: [field('in_height', 'number'), field('in_line', 'text')],
});
const model = await readModel();
const start = performance.now();
let most = 0;
const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 50);
const result = await runImport(
  { path: file, name: 'rows.csv', format: 'csv' },
  { type: model.type('in')!, model },
  {
    targets: { title: '@title', in_height: 'in_height', in_line: 'in_line' },
    existing: 'add',
    allOrNothing: true,
    dry: false,
  },
  { signal: new AbortController().signal, report: () => undefined },
);
clearInterval(watch);
console.log(
  `\nImport of 50,000 rows, all or nothing: ${result.added} added in ${((performance.now() - start) / 1000).toFixed(1)} s, ${(most / 1_000_000).toFixed(0)} MB at most.`,
);
rmSync(folder, { recursive: true, force: true });
await server.close();
