import { Bench } from 'tinybench';
import { coverageOf } from '../src/lib/core/coverage/coverage';
import { ofRecords } from '../src/lib/core/coverage/subjects';
import type { ContentRecord } from '../src/lib/core/schema/record';
import { memoryPool } from '../src/lib/core/loops/memory-pool';
import { plainField } from '../src/lib/core/model/field';
import { indexModel } from '../src/lib/core/model/model';
import { makeEnv } from '../src/lib/core/paths/env';
import { compileTree } from '../src/lib/core/render/compile';
import type { Group } from '../src/lib/core/schema/rule';
import { treeFrom } from '../src/lib/core/templates/build';

/**
 * Which of 50 sections appear for each of 100,000 records (aim: within three seconds, and at most twice a plain loop of
 * predicates written by hand for just these rules).
 */
const RECORDS = 100_000;
const SECTIONS = 50;
const STATES = ['open', 'closing', 'closed'];
const model = indexModel({
  site: { name: 'Bench', tagline: '', locale: 'en-GB', timeZone: 'UTC' },
  types: [
    {
      id: 'hut',
      key: 'hut',
      name: 'Hut',
      plural: 'Huts',
      base: 'huts',
      taxonomyIds: [],
      fields: [
        plainField('height', 'Height', 'number'),
        plainField('open', 'Open', 'yesno'),
        plainField('state', 'State', 'choice', { options: STATES.map((key) => ({ key, label: key })) }),
        plainField('warning', 'Warning', 'text'),
        plainField('day', 'Day', 'date'),
      ],
    },
  ],
  taxonomies: [],
  terms: [],
  authors: [],
  rules: [],
});
const records = Array.from({ length: RECORDS }, (_, i): ContentRecord => {
  const n = Math.imul(i + 1, 2654435761) >>> 0;
  return {
    id: i + 1,
    typeId: 'hut',
    title: `Hut ${i}`,
    slug: `hut-${i}`,
    status: 'published',
    created: '2026-01-01T00:00:00.000Z',
    changed: '2026-01-01T00:00:00.000Z',
    published: '2026-01-01T00:00:00.000Z',
    values: {
      ...(n % 7 ? { height: n % 3000 } : {}),
      open: n % 2 === 0,
      state: STATES[n % 3],
      ...(n % 5 ? {} : { warning: `Mind the step ${n % 9}` }),
      day: `2026-0${1 + (n % 9)}-1${n % 10}`,
    },
    terms: [],
    authorId: null,
    generated: false,
    version: 1,
  };
});

type Values = { height?: number; open?: boolean; state?: string; warning?: string; day?: string };
const TODAY = '2026-06-15';
const path = (step: string) => ({ from: 'record', steps: [step] });
/** Rules of every shape, with the predicate that a hand would write for each. */
const shapes: ((n: number) => { rule: Group; by: (values: Values) => boolean })[] = [
  (n) => ({
    rule: {
      group: 'all',
      rules: [
        { test: 'order.gt', path: path('height'), operand: n * 50 },
        { test: 'yesno.yes', path: path('open') },
      ],
    },
    by: ({ height, open }) => height !== undefined && height > n * 50 && open === true,
  }),
  (n) => ({
    rule: {
      group: 'any',
      rules: [
        { test: 'choice.is', path: path('state'), operand: STATES[n % 3] },
        { test: 'filled', path: path('warning') },
      ],
    },
    by: ({ state, warning }) => state === STATES[n % 3] || (warning !== undefined && warning.trim() !== ''),
  }),
  (n) => ({
    rule: {
      group: 'none',
      rules: [
        { test: 'text.contains', path: path('warning'), operand: `STEP ${n % 9}` },
        { test: 'order.between', path: path('height'), operand: [n * 10, n * 40] },
      ],
    },
    by: ({ warning, height }) =>
      !(
        warning
          ?.normalize('NFC')
          .toLowerCase()
          .includes(`step ${n % 9}`) ?? false
      ) && !(height !== undefined && height >= n * 10 && height <= n * 40),
  }),
  () => ({
    rule: {
      group: 'all',
      rules: [
        { test: 'day.future', path: path('day') },
        {
          group: 'any',
          rules: [
            { test: 'yesno.no', path: path('open') },
            { test: 'empty', path: path('height') },
          ],
        },
      ],
    },
    by: ({ day, open, height }) => day !== undefined && day > TODAY && (open === false || height === undefined),
  }),
];
const made = Array.from({ length: SECTIONS }, (_, i) => shapes[i % shapes.length]!(i));
const tree = treeFrom({
  kind: 'box',
  children: made.map(({ rule }) => ({ kind: 'text', slots: { text: { fixed: 'x' } }, rule })),
});
const compiled = compileTree(tree, { recordTypeIds: ['hut'], loops: [] }, model);
const env = makeEnv({ model, pool: memoryPool(records, []), today: TODAY });

const ours = () => coverageOf(tree, compiled, ofRecords(records), env).totals;
const byHand = () => {
  const totals = made.map(() => 0);
  for (const { values } of records)
    for (let i = 0; i < made.length; i++) if (made[i]!.by(values as Values)) totals[i]!++;
  return totals;
};
if (JSON.stringify(ours()) !== JSON.stringify(byHand())) throw new Error('The two do not come to the same.');

const bench = new Bench({ time: 2000 });
bench.add('coverage', ours).add('by hand', byHand);
await bench.run();
const [own, hand] = bench.tasks.map((task) => (task.result as { latency: { mean: number } }).latency.mean);
console.log(
  `${SECTIONS} sections by ${RECORDS.toLocaleString('en')} records: ${own!.toFixed(0)} ms, predicates by hand ${hand!.toFixed(0)} ms, ratio ${(own! / hand!).toFixed(2)}`,
);
