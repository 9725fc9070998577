import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { Readable } from 'node:stream';
import { join } from 'node:path';
import { load as parseYaml } from 'js-yaml';
import JSZip from 'jszip';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { parse as otherYaml } from 'yaml';
import { inventor } from '../../src/lib/core/content/invent';
import type { ImportFormat } from '../../src/lib/core/exchange/imports';
import { kinds } from '../../src/lib/core/model/kinds';
import { inventValue } from '../../src/lib/core/model/kinds/rows';
import type { Field } from '../../src/lib/core/schema/field';
import { exportType } from '../../src/lib/server/exchange/exporting';
import { receiveFile } from '../../src/lib/server/exchange/importing';
import { readRows } from '../../src/lib/server/exchange/read-rows';
import { readJob } from '../../src/lib/server/jobs/jobs';
import { recordTable } from '../../src/lib/server/services/lists';
import { addBytes } from '../../src/lib/server/services/media';
import { readModel } from '../../src/lib/server/services/model';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { createRecord } from '../../src/lib/server/services/records';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { boxType, field } from '../support/world';
import { startImport, viewFile } from '../support/services';

let drop: () => Promise<void>;
const media: number[] = [];
const people: number[] = [];
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-formats-'));

const options = { options: ['a', 'b', '12', 'C, d | e'].map((label, i) => ({ key: `o${i}`, label })) };
const SETTINGS: Record<string, Record<string, unknown>> = {
  choice: options,
  choices: options,
  rows: {
    fields: [field('what', 'text', {}, 'What'), field('tale', 'richtext', {}, 'Tale'), field('n', 'number', {}, 'N')],
  },
  relation: { relationId: 'k_relation', side: 'a', many: true, typeIds: ['person'] },
};

/** Values that something between an editor and a file has once taken apart: signs of Markdown, YAML, tables and formulas, breaks, blanks at either end. */
const TEXTS = [
  '# no heading', '- no list', '1. no number', '> no quote', '*a* _b_ `c` ~~d~~', '[a](b) ![c](d) <b>e</b> &amp; &lt;',
  '---', 'a: b #c', "it's \"so\"", '=1+1', "'=1+1", '-5', '+49 1', '@x', '007', '1e3', 'yes', 'null', '~', '2026-01-01',
  'a, b; c | d\te', '\\n \\| \\', 'é 霧 😀 שלום', '{"a": 1}', '[1]', '<!-- a -->', 'a\u00a0b', 'www.huts.example https://huts.example/a_b_c',
]; // prettier-ignore
const LONG = [
  ...TEXTS,
  'One.\n\nTwo.\nThree.',
  '  set in\n    further\n\n\n\nand down',
  '```\ncode\n```',
  '| a | b |\n| - | - |\n| 1 | 2 |',
  '\n\nfirst and last\n\n',
];
const RICH = [
  '<p>Plain.</p>',
  '<p>One.</p><p>Two.</p>',
  '<p>a<br />b</p>',
  '<h2>Head</h2><p>Text</p><h3>Less</h3><h4>Least</h4>',
  '<p><strong>a</strong><em>b</em> <s>c</s> <u>d</u> x<sub>2</sub> y<sup>3</sup> <code>e</code></p>',
  '<ul><li><p>a</p></li><li><p>b</p><ul><li><p>c</p></li></ul></li></ul>',
  '<ol start="3"><li><p>a</p></li></ol>',
  '<ol><li>a</li><li>b</li></ol>',
  '<ul><li>a</li></ul><ul><li>b</li></ul>',
  '<blockquote><p>a</p><p>b</p></blockquote>',
  '<pre><code>a\n\n  b\n</code></pre>',
  '<hr /><p>a</p><hr />',
  '<p>a *b* _c_ `d` # e</p>',
  '<p># a</p><p>- b</p><p>1. c</p><p>&gt; d</p>',
  '<p>&lt;b&gt; &amp;amp; \\ |</p>',
  '<p>two  blanks </p>',
  '<p>a\nb</p>',
  '<p>a</p><p></p><p>b</p>',
  'no paragraph',
  'no <strong>paragraph</strong>\n\nno',
  '<p><a href="https://huts.example/a_b_c?x=1&amp;y=2">x</a> <a href="mailto:a@huts.example">y</a></p>',
];
const INPUTS: Record<string, readonly unknown[]> = { text: TEXTS, longtext: LONG, richtext: RICH };
const FORMATS: ImportFormat[] = ['csv', 'json', 'geojson', 'markdown'];
const NAMES = kinds.filter((kind) => kind.forFields).map((kind) => kind.name);

/** A field of each kind; the text below front matter is that of the first field of markup, or else of long text. */
const fieldsOf = (names: readonly string[]): Field[] =>
  names.map((kind) => field(`k_${kind}`, kind, SETTINGS[kind], `K ${kind}`));

const box = (fields: Field[]) => boxType([...fields, field('a_spot', 'place', {}, 'A spot')]);

/** Values of a field: those that once were taken apart, some made up, and every choice of rows. */
function inputsOf(one: Field, make: Parameters<typeof inventValue>[1]): unknown[] {
  const rows = one.kind === 'rows' ? [TEXTS.map((what) => ({ what })), RICH.map((tale, n) => ({ tale, n }))] : [];
  return [...(INPUTS[one.kind] ?? []), ...rows, ...Array.from({ length: 8 }, () => inventValue(one, make))];
}

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  for (const size of [4, 5]) {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="4"><rect width="4" height="4"/></svg>`;
    media.push((await addBytes(`${size}.svg`, Buffer.from(svg))).id);
  }
  for (const title of ['Ada, Countess', 'Bo | Li', '=Cy']) people.push((await createRecord('person', { title })).id);
});
afterAll(async () => {
  await drop();
  rmSync(folder, { recursive: true, force: true });
});

const bytesOf = async (format: ImportFormat): Promise<Buffer> => {
  const pieces: Uint8Array[] = [];
  for await (const piece of (await exportType('box', format)).content)
    pieces.push(typeof piece === 'string' ? Buffer.from(piece) : piece);
  return Buffer.concat(pieces);
};
const records = async () => ((await readModel()).type('box') ? (await recordTable('box', { limit: 500 })).records : []);
const byTitle = async () => Object.fromEntries((await records()).map(({ title, values }) => [title, values]));
const clear = async () => {
  const ids = (await records()).map(({ id }) => id);
  if (ids.length) await deleteRecords(ids);
};

/** Brings a file in as the screen does: looked at, with columns as they are guessed, then imported. */
async function bring(format: ImportFormat, content: Buffer): Promise<void> {
  const { id: file } = await receiveFile('boxes', Readable.from([content]));
  const { targets } = await viewFile({ file, typeId: 'box', format });
  const { id } = await startImport({ file, typeId: 'box', format, targets });
  await expect.poll(async () => (await readJob(id)).state, { timeout: 300_000, interval: 20 }).not.toBe('running');
  expect(await readJob(id)).toMatchObject({ state: 'done', result: { refused: 0, problems: [] } });
}

describe('what goes out comes in as the same values, twice', () => {
  const sets = [
    { name: 'with markup as the text below', names: NAMES },
    { name: 'with long text as the text below', names: NAMES.filter((name) => name !== 'richtext') },
  ];
  for (const { name, names } of sets)
    it(`of every kind, in every format, ${name}`, async () => {
      const fields = fieldsOf(names);
      await clear();
      await saveContentType(box(fields));
      const make = { ...inventor(7), today: 20_000, pictures: media, files: media, records: () => people };
      const known = new Map(fields.map((one) => [one.id, inputsOf(one, make)]));
      const most = Math.max(...[...known.values()].map((values) => values.length));
      for (let i = 0; i < most; i++)
        await createRecord('box', {
          title: `Box ${i}`,
          values: {
            ...Object.fromEntries([...known].map(([id, values]) => [id, values[i] ?? null])),
            ...(i % 2 && { a_spot: { lat: i, lon: -i, label: 'There' } }),
          },
        });
      const before = await byTitle();
      for (const format of FORMATS)
        for (const time of ['once', 'twice']) {
          const content = await bytesOf(format);
          await clear();
          await bring(format, content);
          const now = await byTitle();
          for (const [title, values] of Object.entries(before))
            expect([format, time, title, now[title]]).toEqual([format, time, title, values]);
          expect(Object.keys(now)).toHaveLength(most);
        }
      await clear();
    });
});

describe('front matter', () => {
  it('is read by another library as we wrote it', async () => {
    await clear();
    await saveContentType(box(fieldsOf(['text'])));
    for (const [i, text] of TEXTS.entries()) await createRecord('box', { title: `T${i}`, values: { k_text: text } });
    const zip = await JSZip.loadAsync(await bytesOf('markdown'));
    let seen = 0;
    for (const entry of Object.values(zip.files)) {
      const front = /^---\n([\s\S]*?)\n---\n/.exec(await entry.async('string'))![1]!;
      expect(otherYaml(front)).toEqual(parseYaml(front));
      seen++;
    }
    expect(seen).toBe(TEXTS.length);
    await clear();
  });
});

describe('a file that means harm is refused in a thread of its own', () => {
  const file = (format: ImportFormat, content: string) => {
    const path = join(folder, 'harm');
    writeFileSync(path, content);
    return { path, name: 'harm', format, bodyAsMarkup: true };
  };
  const all = async (rows: AsyncIterable<unknown>) => {
    for await (const _ of rows);
  };

  it('with more columns than anybody has', async () => {
    const error = await refused(
      all(readRows(file('csv', Array.from({ length: 80_000 }, (_, i) => `c${i}`).join(',')))),
    );
    expect(error.problems[0]).toMatchObject({ at: 'line 1', what: 'The file has 80000 columns; 2000 are the most.' });
  });

  it('beyond a bound of time or of memory, while this thread answers', async () => {
    const long = file(
      'json',
      `[${Array.from({ length: 20_000 }, (_, i) => `{"a":"${String(i).repeat(60)}"}`).join(',')}]`,
    );
    const late = await refused(all(readRows(long, undefined, { megabytes: 256, milliseconds: 1 })));
    expect(late.problems[0]?.what).toContain('longer than 0.001 s');
    const large = file('json', `[${`{"a":[${'[],'.repeat(500_000)}1]},`.repeat(4).slice(0, -1)}]`);
    const much = await refused(all(readRows(large, undefined, { megabytes: 16, milliseconds: 120_000 })));
    expect(much.problems[0]?.what).toContain('more than 16 MB');
  });
});
