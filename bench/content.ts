import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FieldSchema } from '../src/lib/core/model/field';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { closeDatabase, inTransaction, select } from '../src/lib/server/database/connect';
import { runImport } from '../src/lib/server/exchange/importing';
import { recordTable } from '../src/lib/server/services/lists';
import { readModel } from '../src/lib/server/services/model';
import { insertRecords } from '../src/lib/server/services/records';
import { SlugBook } from '../src/lib/server/services/slugs';
import { prepareDatabase } from '../src/lib/server/services/start';
import { createTemplate } from '../src/lib/server/services/templates';
import { saveContentType } from '../src/lib/server/services/types';
import { answer } from '../src/lib/server/site/respond';

/** The same screens and pages over 1,000 and 100,000 records of one type, side by side on one database. */
const SIZES = { few: 1_000, many: 100_000 };
const field = (id: string, kind: string, settings: object = {}) =>
  FieldSchema.parse({ id, key: id, label: id, kind, settings });
const STATES = ['open', 'closing', 'closed'].map((key) => ({ key, label: key }));

await prepareDatabase();
const began = Date.now();
for (const [name, size] of Object.entries(SIZES)) {
  await saveContentType({
    id: name,
    key: name,
    name,
    plural: `${name} things`,
    base: `${name}-things`,
    taxonomyIds: [],
    fields: [
      field(`${name}_height`, 'number'),
      field(`${name}_state`, 'choice', { options: STATES }),
      field(`${name}_line`, 'text'),
      field(`${name}_day`, 'date'),
    ],
  });
  const model = await readModel();
  const type = model.type(name)!;
  for (let from = 0; from < size; from += 1000)
    await inTransaction((transaction) =>
      insertRecords(
        model,
        type,
        Array.from({ length: 1000 }, (_, i) => {
          // Spread evenly whatever the size, so that both have the same mixture.
          const n = Math.imul(from + i + 1, 2654435761) >>> 0;
          return {
            title: `Thing ${n.toString(36)} ${from + i}`,
            status: n % 20 ? 'published' : 'draft',
            values: {
              [`${name}_height`]: n % 7 ? n % 4000 : null,
              [`${name}_state`]: STATES[n % 3]?.key,
              [`${name}_line`]: `A line about ${n % 1000}`,
              [`${name}_day`]: `20${10 + (n % 16)}-0${1 + (n % 9)}-1${n % 10}`,
            },
          };
        }),
        transaction,
        new SlugBook(name),
      ),
    );
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
}
await select('ANALYZE TABLE records, record_index, record_counts');
console.log(`Filled in ${((Date.now() - began) / 1000).toFixed(0)} s.`);

const test = (name: string, test: string, step: string, operand: unknown) => ({
  group: 'all',
  rules: [{ test, path: { from: 'loop:table', steps: [`${name}_${step}`] }, operand }],
});
const pages: [string, (name: keyof typeof SIZES) => Promise<unknown>][] = [
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
  ['archive on the site, page 1', (name) => answer(`/${name}-things/`, { styles: [], origin: 'http://a.example' })],
];
const ROUNDS = 60;
const median = (times: number[]) => times.sort((a, b) => a - b)[Math.floor(times.length / 2)] as number;
console.log(`\nMedian of ${ROUNDS} rounds, both sizes by turns:`);
for (const [label, page] of pages) {
  const times = { few: [] as number[], many: [] as number[] };
  for (let round = 0; round < ROUNDS + 5; round++)
    for (const name of ['few', 'many'] as const) {
      const from = performance.now();
      await page(name);
      if (round >= 5) times[name].push(performance.now() - from);
    }
  const [few, many] = [median(times.few), median(times.many)];
  console.log(
    `${label.padEnd(34)} ${few.toFixed(2).padStart(8)} ms at 1,000  ${many.toFixed(2).padStart(8)} ms at 100,000  ratio ${(many / few).toFixed(2)}`,
  );
}

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
  model.type('in')!,
  model,
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
await closeDatabase();
