import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Papa from 'papaparse';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { guessTargets } from '../../src/lib/core/exchange/columns';
import type { ImportFormat, ImportResult } from '../../src/lib/core/exchange/imports';
import { exportType } from '../../src/lib/server/exchange/exporting';
import { runImport } from '../../src/lib/server/exchange/import-run';
import { receiveFile } from '../../src/lib/server/exchange/importing';
import { readBackup } from '../../src/lib/server/exchange/backup/read';
import { writeBackup } from '../../src/lib/server/exchange/backup/write';
import { storedMedia } from '../../src/lib/server/queries/media';
import { recordTable } from '../../src/lib/server/services/lists';
import { addBytes, deleteMedia, readOriginal, readRendition, tidyMedia } from '../../src/lib/server/services/media';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteRecords, undoRemoval } from '../../src/lib/server/services/record-removal';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { refused } from '../support/refused';
import { field } from '../support/world';
import { viewFile } from '../support/services';
import { activeServer } from '../support/server';

let drop: () => Promise<void>;
const aside = mkdtempSync(join(tmpdir(), 'plum-thread-lost-'));
beforeAll(async () => {
  drop = await freshDatabase();
  await saveContentType({
    id: 'part',
    key: 'part',
    name: 'Part',
    plural: 'Parts',
    base: 'parts',
    taxonomyIds: [],
    fields: [
      field('words', 'longtext', {}, 'Words'),
      field('line', 'text', {}, 'Line'),
      field('picture', 'picture', {}, 'Picture'),
      field('within', 'relation', { relationId: 'within', side: 'a', many: false, typeIds: ['part'] }, 'Within'),
    ],
  });
});
afterAll(async () => {
  await drop();
  rmSync(aside, { recursive: true, force: true });
});

const media = () => activeServer().configuration.mediaFolder;
const png = (n: number) =>
  sharp({ create: { width: 700 + n, height: 8, channels: 3, background: { r: n, g: 0, b: 0 } } })
    .png()
    .toBuffer();
const longAgo = (path: string) => utimesSync(path, new Date(Date.now() - 120_000), new Date(Date.now() - 120_000));
/** Every file of the media folder but what is on its way. */
const files = (at = media()): string[] =>
  readdirSync(at, { recursive: true, withFileTypes: true })
    .filter((one) => one.isFile() && !one.parentPath.endsWith('incoming'))
    .map((one) => join(one.parentPath, one.name))
    .sort();
const progress = (signal = new AbortController().signal) => ({ signal, report: () => undefined });
const all = async () => (await recordTable('part', { limit: 500 })).records;
const clear = async () => {
  for (let some = await all(); some.length; some = await all()) await deleteRecords(some.map(({ id }) => id));
};
async function bring(format: ImportFormat, content: string, more: Partial<Parameters<typeof runImport>[2]> = {}) {
  const model = await readModel();
  const { id } = await receiveFile(
    'x',
    (async function* () {
      yield Buffer.from(content);
    })(),
  );
  const { columns } = await viewFile({ file: id, typeId: 'part', format });
  const path = join(aside, id);
  writeFileSync(path, content);
  const targets = guessTargets(columns, model.type('part')!, model);
  const settings = { targets, existing: 'add' as const, allOrNothing: true, dry: false, ...more };
  const result: ImportResult = await runImport(
    { path, name: 'x', format, bodyAsMarkup: true },
    { type: model.type('part')!, model },
    settings,
    progress(),
  );
  return { columns, result };
}
async function textOf(format: string): Promise<string> {
  const pieces: Uint8Array[] = [];
  for await (const piece of (await exportType('part', format)).content)
    pieces.push(typeof piece === 'string' ? Buffer.from(piece) : piece);
  return Buffer.concat(pieces).toString('utf8');
}

describe('the media folder', () => {
  it('is left alone where the database is another one, and foreign files always', async () => {
    const pictures = await Promise.all([1, 2, 3, 4, 5, 6].map(async (n) => addBytes(`${n}.png`, await png(n))));
    await readRendition(pictures[0]!.id, 320, 'webp');
    mkdirSync(join(media(), 'of somebody else'));
    for (const name of ['notes.txt', '2026.png', join('of somebody else', 'x.png')])
      writeFileSync(join(media(), name), 'not ours');
    for (const path of files()) longAgo(path);
    const before = files();
    const own = media();
    // The same folder, and a database that knows nothing of it.
    const leave = await freshDatabase(undefined, 'utf8mb4', { mediaFolder: own });
    const tidied = await tidyMedia();
    expect(files(own)).toEqual(before);
    expect(tidied.refused).toMatch(/the database knows 0/);
    await leave();
  });

  it('puts aside what no row knows, and takes it back when one does', async () => {
    const [kept, gone] = [await addBytes('kept.png', await png(11)), await addBytes('gone.png', await png(12))];
    await readRendition(kept.id, 320, 'webp');
    for (const path of files()) longAgo(path);
    const orphan = `${createHash('sha256').update('x').digest('hex')}.png`;
    writeFileSync(join(media(), orphan), 'x');
    longAgo(join(media(), orphan));
    const { removal } = await deleteMedia([gone.id]);
    expect(await tidyMedia()).toMatchObject({ aside: 1, back: 0, deleted: 0 });
    expect(files().filter((path) => path.endsWith(orphan))).toEqual([
      join(media(), 'put-aside', new Date().toISOString().slice(0, 10), orphan),
    ]);
    await undoRemoval(removal);
    expect((await readOriginal(gone.id)).size).toBe(gone.size);
    // Known again, as after the right database was put back.
    const day = join(media(), 'put-aside', '2020-01-01');
    mkdirSync(day, { recursive: true });
    const { file } = (await storedMedia(kept.id))!;
    const bytes = readFileSync(join(media(), file));
    writeFileSync(join(day, file), bytes);
    rmSync(join(media(), file));
    writeFileSync(join(day, orphan), 'x');
    expect(await tidyMedia()).toMatchObject({ back: 1, deleted: 1 });
    expect(readFileSync(join(media(), file)).equals(bytes)).toBe(true);
    expect(existsSync(day)).toBe(false);
  });

  it('takes renditions that were once named by number for what they are, however many', async () => {
    await addBytes('one.png', await png(31));
    for (let n = 0; n < 60; n++) {
      writeFileSync(join(media(), `${n}-320.webp`), 'x');
      longAgo(join(media(), `${n}-320.webp`));
    }
    expect(await tidyMedia()).toMatchObject({ aside: 60 });
  });

  it('is not touched by an archive that is refused, nor overwritten by one that is not', async () => {
    const picture = await addBytes('p.png', await png(21));
    const path = join(aside, 'a.zip');
    const pieces: Uint8Array[] = [];
    for await (const piece of writeBackup()) pieces.push(piece);
    writeFileSync(path, Buffer.concat(pieces));
    for (const one of files()) writeFileSync(one, 'as it is now');
    const before = files().map((one) => [one, readFileSync(one, 'utf8')]);
    expect((await refused(readBackup(path, progress()))).status).toBe(409);
    expect(files().map((one) => [one, readFileSync(one, 'utf8')])).toEqual(before);
    expect(picture.id).toBeGreaterThan(0);
  });
});

describe('files of records', () => {
  it('have all their columns, also those that come late', async () => {
    await clear();
    const rows = Array.from({ length: 252 }, (_, n) => ({
      title: `T${n}`,
      ...(n >= 210 ? { line: `late ${n}` } : {}),
      ...(n === 251 ? { nobody: 'knows' } : {}),
    }));
    const { columns, result } = await bring('json', JSON.stringify(rows));
    expect(columns).toEqual(['title', 'line', 'nobody']);
    expect(result).toMatchObject({ added: 252, refused: 0 });
    expect((await all()).filter((record) => record.values.line).length).toBe(42);
    // Whoever leaves a column out of what is asked is told so.
    const { result: told } = await bring('json', JSON.stringify(rows), { targets: { title: '@title' }, dry: true });
    expect(told.unread).toEqual([
      { column: 'line', rows: 42 },
      { column: 'nobody', rows: 1 },
    ]);
  });

  it('may have columns called as anything is that objects have', async () => {
    await clear();
    const names = ['constructor', 'toString', '__proto__', 'hasOwnProperty', 'valueOf'];
    const { result } = await bring('csv', `title,${names.join(',')}\nA,1,2,3,4,5\n`);
    expect(result).toMatchObject({ added: 1, refused: 0 });
    const { result: json } = await bring('json', `[{"title":"B","constructor":"x","__proto__":"y","toString":1}]`);
    expect(json).toMatchObject({ added: 1, refused: 0 });
  });

  it('are refused as Markdown that is nested without end, and as any other read', async () => {
    const list = Array.from({ length: 800 }, (_, i) => `${' '.repeat(2 * i)}- x`).join('\n');
    for (const text of ['> '.repeat(5000), '>'.repeat(5000), '- '.repeat(5000), '1. '.repeat(5000), list])
      expect((await refused(bring('markdown', `---\ntitle: Deep\n---\n${text}x\n`))).problems[0]?.what).toContain(
        '100 levels',
      );
    const fine = `---\ntitle: Flat\n---\n${'-'.repeat(500)}\n\n${'> '.repeat(20)}q\n\n${'* * * '.repeat(10)}\n\n    code\n`;
    expect((await bring('markdown', fine)).result).toMatchObject({ added: 1, refused: 0 });
  });

  it('are read as they were written by another reader (RFC 4180, 2.6), and come back in', async () => {
    await clear();
    const words = ['two\nlines', 'two\r\nlines', 'a\rb', 'say "so"', 'a,b;c\td', ' spaces ', '\n', 'ends\n'];
    for (const [n, text] of words.entries())
      await createRecord('part', { title: `Line ${n}`, values: { words: text, line: 'x' } });
    const csv = await textOf('csv');
    // Outside of quotes there is no line break but the one that ends a record.
    expect(csv.replace(/"(?:[^"]|"")*"/g, '').replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
    const { data, errors } = Papa.parse<string[]>(csv, { newline: '\r\n', skipEmptyLines: true });
    expect(errors).toEqual([]);
    expect(data).toHaveLength(words.length + 1);
    const at = data[0]!.indexOf('words');
    const before = (await all()).map((record) => [record.title, record.values.words]);
    expect(data.slice(1).map((row) => row[at])).toEqual(
      (await all()).sort((a, b) => a.id - b.id).map((record) => (record.values.words as string | undefined) ?? ''),
    );
    await clear();
    expect((await bring('csv', csv)).result).toMatchObject({ added: words.length, refused: 0 });
    expect((await all()).map((record) => [record.title, record.values.words])).toEqual(before);
  });

  it.each(['csv', 'json'] as const)('may lead to each other in one file, in any order (%s)', async (format) => {
    await clear();
    // Each lies within one that comes 300 rows later, or earlier; one within itself.
    const n = 620;
    const within = (i: number) => `p-${i < 300 ? i + 300 : i < 600 ? i - 300 : i}`;
    const rows = Array.from({ length: n }, (_, i) => ({ title: `P ${i}`, slug: `p-${i}`, within: within(i) }));
    const content = format === 'json' ? JSON.stringify(rows) : Papa.unparse(rows);
    const dry = await bring(format, content, { dry: true });
    expect(dry.result.problems.slice(0, 2), JSON.stringify(dry.result)).toEqual([]);
    expect(dry.result).toMatchObject({ added: n, refused: 0, problems: [] });
    expect(await all()).toHaveLength(0);
    for (const allOrNothing of [true, false]) {
      const { result } = await bring(format, content, { allOrNothing });
      expect({ ...result, problems: result.problems.slice(0, 2) }, JSON.stringify(result).slice(0, 800)).toMatchObject({
        added: n,
        refused: 0,
        problems: [],
      });
      const whole = JSON.parse(await textOf('json')) as { slug: string; within: string[] }[];
      expect(whole).toHaveLength(n);
      for (const one of whole) expect(one.within).toEqual([within(Number(one.slug.slice(2)))]);
      if (allOrNothing) {
        // What went out comes in again.
        await clear();
        expect((await bring('json', JSON.stringify(whole))).result).toMatchObject({ added: n, refused: 0 });
        expect(JSON.parse(await textOf('json'))).toEqual(whole);
        await clear();
      }
    }
    await clear();
    // What leads nowhere is told with its place, and keeps all out where all is asked for.
    const lost = JSON.stringify([{ title: 'A', within: 'nowhere' }, { title: 'B' }]);
    const { result } = await bring('json', lost);
    expect(result.problems).toMatchObject([
      { place: 'line 1', at: 'within', what: expect.stringContaining('nowhere') },
    ]);
    expect(await all()).toHaveLength(0);
  });
});
