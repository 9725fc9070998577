import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import countries from 'world-countries';
import { ZipFile } from 'yazl';
import { guessTargets } from '../../src/lib/core/exchange/columns';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { exportType, guardCell } from '../../src/lib/server/exchange/exporting';
import { runImport } from '../../src/lib/server/exchange/import-run';
import { receiveFile } from '../../src/lib/server/exchange/importing';
import { cancelJob, readJob } from '../../src/lib/server/jobs/jobs';
import type { ImportFormat, ImportResult } from '../../src/lib/core/exchange/imports';
import { guessFormat, sourceRows } from '../../src/lib/server/exchange/sources';
import { findTitles, recordTable } from '../../src/lib/server/services/lists';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { countsOf } from '../../src/lib/server/services/type-uses';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { field } from '../support/world';
import { saveTaxonomy, saveTerm, startImport, viewFile } from '../support/services';

let drop: () => Promise<void>;
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-files-'));
const note = {
  id: 'note',
  key: 'note',
  name: 'Note',
  plural: 'Notes',
  base: 'notes',
  taxonomyIds: ['area'],
  fields: [
    { ...field('code', 'text', { maxLength: 20 }, 'Code'), unique: true },
    field('amount', 'number', { decimals: 2 }, 'Amount'),
    field('day', 'date', {}, 'Day'),
    field('body', 'richtext', {}, 'Body'),
    field('where', 'place', {}, 'Where'),
    field('lines', 'rows', { fields: [field('what', 'text', {}, 'What'), field('n', 'number', {}, 'N')] }, 'Lines'),
    field('keeper', 'relation', { relationId: 'note_keeper', side: 'a', many: true, typeIds: ['person'] }, 'Keeper'),
  ].map((f) => (f.id === 'keeper' ? { ...f, id: 'note_keeper' } : f)),
};

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await saveContentType(note);
  for (const title of ['Ada', 'Bo', 'Twin', 'Twin']) await createRecord('person', { title });
});
afterAll(async () => {
  await drop();
  rmSync(folder, { recursive: true, force: true });
});

let files = 0;
const fileOf = (content: string | Uint8Array): string => {
  const path = join(folder, `f${++files}`);
  writeFileSync(path, content);
  return path;
};
const read = async (format: ImportFormat, content: string | Uint8Array, encoding?: 'windows-1252' | 'utf-16') => {
  const rows: Record<string, unknown>[] = [];
  for await (const row of sourceRows({
    path: fileOf(content),
    name: 'x',
    format,
    encoding,
    bodyAsMarkup: true,
  }))
    rows.push(row.cells);
  return rows;
};
const fails = async (format: ImportFormat, content: string | Uint8Array): Promise<{ at: string; what: string }> => {
  const error = await refused(read(format, content));
  return error.problems[0] ?? { at: '', what: error.title };
};
const progress = (signal = new AbortController().signal) => ({ signal, report: () => undefined });
const bring = async (
  format: ImportFormat,
  content: string | Uint8Array,
  more: Partial<Parameters<typeof runImport>[2]> = {},
  typeId = 'note',
): Promise<ImportResult> => {
  const now = await readModel();
  const type = now.type(typeId)!;
  const path = fileOf(content);
  const names = new Set<string>();
  for await (const row of sourceRows({ path, name: 'x', format }))
    for (const name of Object.keys(row.cells)) names.add(name);
  return runImport(
    { path, name: 'x', format },
    { type, model: now },
    { targets: guessTargets([...names], type, now), existing: 'add', allOrNothing: true, dry: false, ...more },
    progress(),
  );
};
const textOf = async (typeId: string, format: string) => {
  const pieces: Uint8Array[] = [];
  for await (const piece of (await exportType(typeId, format)).content)
    pieces.push(typeof piece === 'string' ? Buffer.from(piece) : piece);
  return Buffer.concat(pieces);
};
const all = async (typeId = 'note'): Promise<ContentRecord[]> => (await recordTable(typeId, { limit: 500 })).records;
const clear = async (typeId = 'note') => {
  const ids = (await all(typeId)).map((record) => record.id);
  if (ids.length) await deleteRecords(ids);
};

describe('comma-separated values (RFC 4180)', () => {
  it('are read as section 2 says', async () => {
    const head = 'field_1,field_2,field_3\r\n';
    const one = [{ field_1: 'aaa', field_2: 'bbb', field_3: 'ccc' }];
    // 2.1 and 2.2: the last line may end with a break or not. 2.3: a header. 2.4: spaces belong to the field.
    expect(await read('csv', `${head}aaa,bbb,ccc\r\n`)).toEqual(one);
    expect(await read('csv', `${head}aaa,bbb,ccc`)).toEqual(one);
    expect(await read('csv', `${head}aaa , bbb,ccc`)).toEqual([{ field_1: 'aaa ', field_2: ' bbb', field_3: 'ccc' }]);
    // 2.5: quoted. 2.6: breaks and commas in quotes. 2.7: quotes twice.
    expect(await read('csv', `${head}"aaa","bbb","ccc"\r\n`)).toEqual(one);
    expect(await read('csv', `${head}"aaa","b \r\nbb","ccc"\r\n`)).toEqual([
      { field_1: 'aaa', field_2: 'b \r\nbb', field_3: 'ccc' },
    ]);
    expect(await read('csv', `${head}"aaa","b""bb","c,cc"`)).toEqual([
      { field_1: 'aaa', field_2: 'b"bb', field_3: 'c,cc' },
    ]);
  });

  it('are read as papaparse reads them, and written so that it reads the same', async () => {
    const cell = fc.string({ unit: fc.constantFrom('a', 'é', '霧', '"', ',', ';', '\n', ' ', '=', "'", '-', '1') });
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(cell, cell), { minLength: 1, maxLength: 6 }), async (rows) => {
        const text = Papa.unparse([['one', 'two'], ...rows], { newline: '\r\n' });
        const theirs = Papa.parse<Record<string, string>>(text, {
          header: true,
          skipEmptyLines: 'greedy' as const,
          delimiter: ',',
        }).data;
        const ours = (await read('csv', text)).filter((row) => `${String(row.one)}${String(row.two)}`.trim());
        // Ours takes away what guards a cell against spreadsheets.
        const unguarded = theirs.map((row) =>
          Object.fromEntries(Object.entries(row).map(([k, v]) => [k, /^'+[=+\-@\t\r]/.test(v) ? v.slice(1) : v])),
        );
        expect(ours).toEqual(unguarded);
      }),
      { numRuns: 150 },
    );
    await clear();
    const titles = [
      'plain',
      'with, comma',
      'with "quotes"',
      'two\u2028lines',
      '=SUM(A1:A9)',
      "'=already",
      '-5',
      '霧',
      ' |pipe\\',
    ].map((title) => title.trim());
    for (const title of titles)
      await createRecord('note', { title, values: { body: '<p>a,\n"b"</p>', lines: [{ what: 'x|y', n: 1 }] } });
    const parsed = Papa.parse<Record<string, string>>((await textOf('note', 'csv')).toString(), {
      header: true,
      skipEmptyLines: true,
    });
    expect(parsed.errors).toEqual([]);
    expect(parsed.data.map((row) => row.title)).toEqual(titles.map(guardCell));
    expect(parsed.data[0]?.lines).toBe('[{"what":"x|y","n":1}]');
  });

  it('find their delimiter, and pass over a byte order mark', async () => {
    for (const sign of [';', '\t', '|', ','])
      expect(await read('csv', `\uFEFFa${sign}b\n1${sign}"2,;\t|"\n`)).toEqual([{ a: '1', b: '2,;\t|' }]);
  });

  it('come in every encoding that is said, and are refused with their line in a wrong one', async () => {
    const text = 'title,code\nHütte,1\n霧,2\n';
    expect(await read('csv', Buffer.from(`\uFEFF${text}`, 'utf16le'))).toEqual([
      { title: 'Hütte', code: '1' },
      { title: '霧', code: '2' },
    ]);
    expect(await read('csv', Buffer.from(`\uFEFF${text}`, 'utf16le').swap16())).toHaveLength(2);
    expect(await read('csv', Buffer.from('title\nHütte\n', 'latin1'), 'windows-1252')).toEqual([{ title: 'Hütte' }]);
    expect(await fails('csv', Buffer.from('title\nfine\nHütte\n', 'latin1'))).toMatchObject({
      at: 'line 3',
      what: 'This line has bytes that are not UTF-8: “Hütte”.',
    });
  });

  it.each([
    ['', '', 'The file is empty.'],
    ['a,b\n1,"2\n3,4\n', 'line', 'A quote that was opened is never closed; the file may be cut off.'],
    ['a,b\n1,"2"x,3\n', 'line 2', 'A quote stands where none may be.'],
    ['a,b\n1,2\n1,2,3\n', 'line 3', 'This line has 3 cells; there are 2 columns.'],
    ['a,a\n1,2\n', 'line 1', 'Two columns are called “a”.'],
    [',\n1,2\n', 'line 1', 'The first line names no columns.'],
    [`a,b\n1,${'x'.repeat(9_000_000)}`, 'line 2', 'This line is longer than 8 MB.'],
    [`a,b\n1,"${'x\n'.repeat(3_500_000)}"`, 'line', 'A row here is larger than 6 MB.'],
  ])('that are wrong are told with their line (%#)', async (text, at, what) => {
    const found = await fails('csv', text);
    expect(found.what).toBe(what);
    expect(found.at).toContain(at);
  });
});

describe('JSON', () => {
  it('is read from an array or line by line, however it is broken up', async () => {
    const values = [{ a: 'x"]},{\\', b: [1, { c: [] }] }, { a: '霧' }, {}];
    expect(await read('json', JSON.stringify(values))).toEqual(values);
    expect(await read('json', `\uFEFF${JSON.stringify(values, null, 2)}\n`)).toEqual(values);
    expect(await read('json', values.map((v) => JSON.stringify(v)).join('\n'))).toEqual(values);
    const many = Array.from({ length: 20_000 }, (_, i) => ({ i, text: 'é'.repeat(i % 40) }));
    expect(await read('json', JSON.stringify(many))).toEqual(many);
  });

  it.each([
    ['[{"a":1},', 'line 1', 'The file ends before its list does; it may be cut off.'],
    ['[{"a":1},\n{"a":', 'line 2', 'The file ends within an object; it may be cut off.'],
    ['[{"a":1}]\nx', 'line 2', 'Something stands after the end of the list.'],
    ['[1,2]', 'line 1', 'Here an object should begin.'],
    ['{"a":1}\n{"a":}', 'line 2', 'This is not JSON'],
    [
      `[{"a":${'['.repeat(5000)}${']'.repeat(5000)}}]`,
      'line 1',
      'This is nested more than 1,000 levels deep; 60 are the most.',
    ],
    [`[{"a":"${'x'.repeat(7_000_000)}"}]`, 'line 1', 'The object that begins here is larger than 6 MB.'],
  ])('that is wrong is told with its line (%#)', async (text, at, what) => {
    const found = await fails('json', text);
    expect([found.at, found.what.startsWith(what)]).toEqual([at, true]);
  });
});

const zip = (entries: [string, string | Buffer][]): Promise<Buffer> =>
  new Promise((done, failed) => {
    const made = new ZipFile();
    for (const [name, content] of entries) made.addBuffer(Buffer.from(content), name);
    made.end();
    const pieces: Buffer[] = [];
    made.outputStream.on('data', (piece: Buffer) => pieces.push(piece));
    made.outputStream.on('end', () => done(Buffer.concat(pieces)));
    made.outputStream.on('error', failed);
  });

describe('text files', () => {
  it('are read from a zip with their front matter', async () => {
    const rows = await read(
      'markdown',
      await zip([
        ['notes/first-one.md', '---\ntitle: First\ncode: A\n---\n\n# Big\n\nSome *words*.'],
        ['second.md', 'Only text'],
        ['readme.txt', 'no'],
      ]),
    );
    expect(rows).toEqual([
      { slug: 'first-one', title: 'First', code: 'A', body: '<h1>Big</h1><p>Some <em>words</em>.</p>' },
      { title: 'second', slug: 'second', body: '<p>Only text</p>' },
    ]);
  });

  it('that are damaged, not UTF-8 or bombs are refused, and the server lives', async () => {
    const good = await zip([['a.md', 'x']]);
    expect((await fails('markdown', good.subarray(0, good.length - 20))).what).toContain('The zip cannot be opened');
    expect(await fails('markdown', await zip([['bad.md', Buffer.from([0x61, 0xff, 0xfe])]]))).toEqual({
      at: 'bad.md',
      what: 'This entry is not UTF-8.',
      fix: 'Save it as UTF-8.',
    });
    expect((await fails('markdown', await zip([['bomb.md', Buffer.alloc(30_000_000, 65)]]))).what).toBe(
      'Unpacked, this entry is larger than 10 MB.',
    );
    expect((await fails('markdown', await zip([['y.md', '---\na: [\n---\n']]))).at).toContain('y.md, line');
    // A name that leads out of the folder.
    const evil = Buffer.from(good.toString('latin1').replaceAll('a.md', '/x/y'), 'latin1');
    expect((await fails('markdown', evil)).what).toMatch(/zip/);
  });
});

describe('files', () => {
  it('are recognised by what is in them', async () => {
    const cases: [string | Buffer, string, ImportFormat][] = [
      ['a,b\n1,2', 'x.json', 'csv'],
      ['[{}]', 'x.csv', 'json'],
      ['{"type":"FeatureCollection","features":[]}', 'x', 'geojson'],
      ['---\na: 1\n---', 'x', 'markdown'],
      [await zip([['a.md', 'x']]), 'x', 'markdown'],
      [Buffer.from('\uFEFF[{}]', 'utf16le'), 'x', 'json'],
    ];
    for (const [content, name, format] of cases) expect(await guessFormat(fileOf(content), name)).toBe(format);
  });
});

describe('an import', () => {
  const table =
    'title,code,amount,day,where,lines,keeper,Area\nA,a-1,1.5,2026-05-31,"57.1, -4.7 (Pass)","[{""what"":""x"",""n"":2}]",ada | Bo,peak|South\nB,a-2,,,,,,\n';

  it('looks relations and terms up by address part or title', async () => {
    await clear();
    const result = await bring('csv', table.replace(',keeper,', ',Keeper,'));
    expect(result).toMatchObject({ rows: 2, added: 2, refused: 0, problems: [] });
    const people = new Map((await findTitles(['person'])).map((one) => [one.title, one.id]));
    expect((await all()).find((record) => record.title === 'A')).toMatchObject({
      terms: ['peak', 'south'],
      values: {
        code: 'a-1',
        amount: 1.5,
        day: '2026-05-31',
        where: { lat: 57.1, lon: -4.7, label: 'Pass' },
        lines: [{ what: 'x', n: 2 }],
        note_keeper: [people.get('Ada'), people.get('Bo')],
      },
    });
  });

  const wrong =
    'title,code,amount,day,Keeper,Area\nC,c-1,many,2026-02-30,nobody,Nowhere\n,c-2,,,,\nD,a-1,,,,\nE,c-3,,,Twin,\nF,c-3,1,,,\nG,c-3,2,,,\n';

  it('tried beforehand tells every problem by row and column, and keeps nothing', async () => {
    const before = await all();
    const result = await bring('csv', wrong, { dry: true });
    expect(result).toMatchObject({ rows: 6, added: 1, refused: 5 });
    expect(result.problems.map((p) => [p.place, p.at])).toEqual(
      expect.arrayContaining([
        ['line 2', 'Keeper'],
        ['line 2', 'Area'],
        ['line 3', 'title'],
        ['line 4', 'code'],
        ['line 5', 'Keeper'],
        ['line 7', 'code'],
      ]),
    );
    expect(await all()).toEqual(before);
  });

  it('of all or nothing keeps nothing; otherwise the good rows', async () => {
    const before = (await all()).length;
    expect(await bring('csv', wrong)).toMatchObject({ added: 0, refused: 5 });
    expect((await all()).length).toBe(before);
    expect(await bring('csv', wrong, { allOrNothing: false })).toMatchObject({ added: 1, refused: 5 });
    expect((await all()).map((record) => record.title)).toContain('F');
    expect((await countsOf('note')).total).toBe(before + 1);
  });

  it('changes or skips what is there already', async () => {
    const again = 'title,slug,amount\nA again,a,99\nNew,brand-new,1\n';
    expect(await bring('csv', again, { existing: 'skip' })).toMatchObject({ added: 1, skipped: 1 });
    expect(await bring('csv', again, { existing: 'update' })).toMatchObject({ updated: 2, added: 0 });
    expect((await all()).find((record) => record.slug === 'a')).toMatchObject({
      title: 'A again',
      values: { amount: 99, code: 'a-1' },
    });
    expect(await bring('csv', again)).toMatchObject({ added: 0, refused: 2 });
  });

  it('leaves a record as it was whose change is refused, and changes the others', async () => {
    await clear();
    const [one, two] = [
      await createRecord('note', { title: 'One', values: { code: 'taken' } }),
      await createRecord('note', { title: 'Two', values: { code: 'own' } }),
    ];
    const result = await bring('csv', 'title,slug,code,amount\nOne again,one,taken,1\nTwo again,two,taken,2\n', {
      existing: 'update',
      allOrNothing: false,
    });
    expect(result).toMatchObject({ updated: 1, refused: 1, problems: [{ place: 'line 3', at: 'code' }] });
    const now = new Map((await all()).map((record) => [record.id, record]));
    expect(now.get(one.id)).toMatchObject({ title: 'One again', values: { amount: 1 } });
    expect(now.get(two.id)).toMatchObject({ title: 'Two', version: 1, values: { code: 'own' } });
  });

  it('refuses rows for their own faults only, batch after batch', async () => {
    await clear();
    // The first row of each address is refused, so that the second may have it, however far down it stands.
    const rows = [
      ...Array.from({ length: 300 }, (_, i) => `A${i},a-${i},many`),
      ...Array.from({ length: 300 }, (_, i) => `B${i},a-${i},1`),
    ];
    const result = await bring('csv', `title,slug,amount\n${rows.join('\n')}\n`, { allOrNothing: false });
    expect(result).toMatchObject({ rows: 600, added: 300, refused: 300 });
    expect((await all()).every((record) => record.title.startsWith('B'))).toBe(true);
    await clear();
    expect(await bring('csv', `title,slug,amount\n${rows.join('\n')}\n`, { dry: true })).toMatchObject({
      rows: 600,
      added: 300,
      refused: 300,
    });
    expect(await all()).toEqual([]);
  });

  it.each(['csv', 'json', 'markdown', 'geojson'] as const)(
    'of what was exported as %s gives the same records',
    async (format) => {
      await clear();
      await createRecord('note', {
        title: 'One',
        status: 'published',
        terms: ['hill'],
        values: {
          code: '=1+1',
          amount: -0.5,
          body: '<h2>Head</h2>\n<p>Text with <strong>strong</strong> words.</p>',
          where: { lat: 1.5, lon: 2.5 },
          lines: [{ what: 'a', n: 0 }],
          note_keeper: [(await findTitles(['person'], 'ada'))[0]!.id],
        },
      });
      await createRecord('note', { title: 'Two|2', values: { where: { lat: -1, lon: 0, label: 'X' } } });
      const file = await textOf('note', format);
      const strip = (records: ContentRecord[]) =>
        records.map(({ id: _, changed: __, ...record }) => ({
          ...record,
          values: { ...record.values, body: (record.values.body as string | undefined)?.replace(/\n/g, '') },
        }));
      const before = strip(await all());
      await clear();
      const now = await readModel();
      const path = fileOf(file);
      const [type, source] = [now.type('note')!, { path, name: 'x', format }];
      const names = new Set<string>();
      for await (const row of sourceRows(source)) for (const name of Object.keys(row.cells)) names.add(name);
      const targets = {
        ...guessTargets([...names], type, now),
        ...(format === 'markdown' ? { body: 'body' } : {}),
        ...(format === 'geojson' ? { place: 'where' } : {}),
      };
      const result = await runImport(
        source,
        { type, model: now },
        { targets, existing: 'add', allOrNothing: true, dry: false },
        progress(),
      );
      expect(result.problems).toEqual([]);
      expect(strip(await all())).toEqual(before);
    },
  );

  it('that is broken off when everything is in already says that it is in', async () => {
    await clear();
    const now = await readModel();
    const abort = new AbortController();
    const result = await runImport(
      { path: fileOf('title,code\nOne,late-1\nTwo,late-2\n'), name: 'x', format: 'csv' },
      { type: now.type('note')!, model: now },
      { targets: { title: '@title', code: 'code' }, existing: 'add', allOrNothing: true, dry: false },
      // The end is written, and only then somebody presses.
      { ...progress(abort.signal), settle: () => Promise.resolve(abort.abort()) },
    );
    expect([result.added, (await all()).length]).toEqual([2, 2]);
  });

  it('is viewed, started, followed and cancelled by what the screen uses', async () => {
    await clear();
    const rows = Array.from({ length: 6000 }, (_, i) => `Row ${i},r-${i},${i}`).join('\n');
    const received = await receiveFile(
      'rows.csv',
      (async function* () {
        yield Buffer.from(`title,code,amount\n${rows}\n`);
      })(),
    );
    expect(received.format).toBe('csv');
    const view = await viewFile({ file: received.id, typeId: 'note', format: 'csv' });
    expect([view.columns, view.sample.length, view.targets]).toEqual([
      ['title', 'code', 'amount'],
      3,
      { title: '@title', code: 'code', amount: 'amount' },
    ]);
    const asked = { file: received.id, typeId: 'note', format: 'csv', targets: view.targets };
    await expect(startImport({ ...asked, targets: {} })).rejects.toMatchObject({ status: 422 });
    await expect(startImport({ ...asked, file: 'gone' })).rejects.toMatchObject({ status: 404 });
    const job = await startImport(asked);
    while ((await readJob(job.id)).done < 500) await new Promise((done) => setTimeout(done, 5));
    await cancelJob(job.id);
    while ((await readJob(job.id)).state === 'running') await new Promise((done) => setTimeout(done, 5));
    expect([(await readJob(job.id)).state, (await countsOf('note')).total]).toEqual(['cancelled', 0]);
    const whole = await startImport(asked);
    while ((await readJob(whole.id)).state === 'running') await new Promise((done) => setTimeout(done, 20));
    expect(await readJob(whole.id)).toMatchObject({ state: 'done', result: { added: 6000 } });
    expect((await countsOf('note')).total).toBe(6000);
  });
});

/**
 * Real, nested and related data: the `world-countries` package from the registry (Open Database License). Every figure
 * is computed straight from its file.
 */
describe('the countries of the world', () => {
  it('come in whole, with languages and currencies as rows and borders as a relation', async () => {
    await saveTaxonomy({ id: 'region', key: 'region', name: 'Region', tree: true });
    const regions = new Map<string, string>();
    for (const { region, subregion } of countries) {
      if (!regions.has(region)) regions.set(region, (await saveTerm({ taxonomyId: 'region', name: region })).slug);
      if (subregion && !regions.has(`${region}/${subregion}`)) {
        const parent = (await readModel()).terms.find((term) => term.slug === regions.get(region));
        regions.set(
          `${region}/${subregion}`,
          (await saveTerm({ taxonomyId: 'region', name: subregion, parentId: parent?.id })).slug,
        );
      }
    }
    await saveContentType({
      id: 'country',
      key: 'country',
      name: 'Country',
      plural: 'Countries',
      base: 'countries',
      taxonomyIds: ['region'],
      fields: [
        { ...field('cca3', 'text', { maxLength: 3 }, 'Code'), unique: true },
        field('area_km2', 'number', {}, 'Area'),
        field('landlocked', 'yesno', {}, 'Landlocked'),
        field('capital', 'place', {}, 'Middle'),
        field('tongues', 'rows', { fields: [field('tongue_code', 'text'), field('tongue_name', 'text')] }, 'Languages'),
        field(
          'money',
          'rows',
          { fields: [field('money_code', 'text'), field('money_name', 'text'), field('sign', 'text')] },
          'Currencies',
        ),
        field('borders', 'relation', { relationId: 'borders', side: 'a', many: true, typeIds: ['country'] }, 'Borders'),
      ],
    });
    const plain = countries.map((country) => ({
      title: country.name.common,
      slug: country.cca3.toLowerCase(),
      cca3: country.cca3,
      area_km2: country.area,
      landlocked: country.landlocked,
      capital: { lat: country.latlng[0], lon: country.latlng[1] },
      tongues: Object.entries(country.languages).map(([tongue_code, tongue_name]) => ({ tongue_code, tongue_name })),
      money: Object.entries(country.currencies).map(([money_code, { name, symbol }]) => ({
        money_code,
        money_name: name,
        sign: symbol,
      })),
      region: [regions.get(country.subregion ? `${country.region}/${country.subregion}` : country.region)],
    }));
    const first = await bring('json', JSON.stringify(plain), {}, 'country');
    expect(first).toMatchObject({ added: countries.length, problems: [] });
    const borders = countries
      .filter((country) => country.borders.length)
      .map((country) => ({
        title: country.name.common,
        slug: country.cca3.toLowerCase(),
        borders: country.borders.map((code) => code.toLowerCase()),
      }));
    const second = await bring(
      'json',
      borders.map((one) => JSON.stringify(one)).join('\n'),
      { existing: 'update' },
      'country',
    );
    expect(second).toMatchObject({ updated: borders.length, problems: [] });

    const records = await all('country');
    const byCode = new Map(records.map((record) => [record.values.cca3 as string, record]));
    expect(records).toHaveLength(countries.length);
    for (const country of countries) {
      const record = byCode.get(country.cca3)!;
      expect(record.title).toBe(country.name.common);
      expect(
        ((record.values.borders ?? []) as number[]).map((id) => records.find((r) => r.id === id)?.values.cca3),
      ).toEqual(country.borders);
      expect(((record.values.tongues ?? []) as { tongue_name: string }[]).map((row) => row.tongue_name)).toEqual(
        Object.values(country.languages),
      );
    }
    const landlocked = {
      group: 'all',
      rules: [{ test: 'yesno.yes', path: { from: 'loop:table', steps: ['landlocked'] } }],
    };
    expect((await recordTable('country', { filter: landlocked })).total).toBe(
      countries.filter((c) => c.landlocked).length,
    );
    const large = {
      group: 'all',
      rules: [{ test: 'order.gt', path: { from: 'loop:table', steps: ['area_km2'] }, operand: 1_000_000 }],
    };
    expect((await recordTable('country', { filter: large })).total).toBe(
      countries.filter((c) => c.area > 1_000_000).length,
    );
    const now = await readModel();
    const europe = now.terms.find((term) => term.name === 'Europe')!;
    const inEurope = {
      group: 'all',
      rules: [{ test: 'terms.below', path: { from: 'loop:table', steps: ['@terms:region'] }, operand: [europe.id] }],
    };
    expect((await recordTable('country', { filter: inEurope })).total).toBe(
      countries.filter((c) => c.region === 'Europe').length,
    );
    // And out again: as many rows as papaparse counts.
    expect(
      Papa.parse((await textOf('country', 'csv')).toString(), { header: true, skipEmptyLines: true }).data,
    ).toHaveLength(countries.length);
  });
});
