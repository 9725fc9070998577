import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inTransaction, run, select } from '../src/lib/server/database/connect';
import { runImport } from '../src/lib/server/exchange/import-run';
import { readModel } from '../src/lib/server/services/model';
import { fillOne, wordsFor } from './support/fill';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/**
 * An import of so many rows of fourteen columns beside the database copying the rows that came of it (records, what lists look
 * up, words for searches, terms) into tables alike, a thousand records at a time (aim: at most 5 times; that reads no file,
 * checks nothing and sends nothing), and what updating and trying cost beside the import (aim: at most 2 times).
 */
const ROWS = Number(process.env.PLUM_BENCH_ROWS ?? 20_000);

await fillOne('many', 1000);
const model = await readModel();
const type = model.type('many')!;
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-bench-'));
const path = join(folder, 'rows.csv');
const rowsOf = (more: number) =>
  Array.from({ length: ROWS }, (_, i) => [
    `Row ${i} of many`,
    `row-${i}`,
    String((i * 7919 + more) % 4000),
    ['open', 'closing', 'closed'][(i + more) % 3]!,
    `A line about ${(i + more) % 1000}`,
    `2026-0${1 + (i % 9)}-1${i % 10}`,
    `<p>${wordsFor(i + more, 60)}.</p><p>${wordsFor(i + more + 1, 70)}.</p>`,
    wordsFor(i + more + 2, 20),
    String((i % 1000) / 8),
    i % 2 ? 'true' : 'false',
    ['stove', 'stove|dogs', 'books|water|wood'][i % 3]!,
    `+44 1632 960${String(i % 1000).padStart(3, '0')}`,
    `https://huts.example/${i}`,
    `Area ${i % 30}`,
  ]);
const write = (rows: string[][]) =>
  writeFileSync(
    path,
    [
      'title,slug,height,state,line,day,story,about,share,open,tags,call,link,area',
      ...rows.map((row) => row.join(',')),
    ].join('\n'),
  );
const targets = {
  title: '@title',
  slug: '@slug',
  height: 'many_height',
  state: 'many_state',
  line: 'many_line',
  day: 'many_day',
  story: 'many_story',
  about: 'many_about',
  share: 'many_share',
  open: 'many_open',
  tags: 'many_tags',
  call: 'many_call',
  link: 'many_link',
  area: '@terms:many_area',
};
const progress = { signal: new AbortController().signal, report: () => undefined };
const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const from = performance.now();
  await work();
  return performance.now() - from;
};
async function imported(existing: 'add' | 'update', dry: boolean, allOrNothing: boolean): Promise<void> {
  const file = { path, name: 'rows.csv', format: 'csv' as const };
  const result = await runImport(file, { type, model }, { targets, existing, allOrNothing, dry }, progress);
  if (result.refused || result.added + result.updated < ROWS) throw new Error(JSON.stringify(result).slice(0, 500));
}

/** Everything that an import of records writes, by the column that names the record. */
const TABLES = { records: 'id', record_index: 'record_id', record_words: 'record_id', record_terms: 'record_id' };
/** The same rows in the same tables with the same indexes, a thousand records in a transaction, written by nobody but the database. */
async function plain(ids: readonly number[]): Promise<void> {
  for (const name of Object.keys(TABLES)) await run(`CREATE TABLE plain_${name} LIKE ${name}`, []);
  for (let i = 0; i < ids.length; i += 1000)
    await inTransaction(async (transaction) => {
      const own = ids.slice(i, i + 1000);
      for (const [name, column] of Object.entries(TABLES))
        await run(`INSERT INTO plain_${name} SELECT * FROM ${name} WHERE ${column} IN (?)`, [own], transaction);
    });
}

write(rowsOf(0));
const tried = await timed(() => imported('add', true, true));
const allOrNothing = await timed(() => imported('add', false, true));
await run("DELETE FROM records WHERE slug LIKE 'row-%'", []);
const added = await timed(() => imported('add', false, false));
const ids = (await select<{ id: number }>("SELECT id FROM records WHERE slug LIKE 'row-%'")).map(({ id }) => id);
const bare = await timed(() => plain(ids));
write(rowsOf(1));
const changed = await timed(() => imported('update', false, false));
const triedChange = await timed(() => imported('update', true, true));
const told = (label: string, ms: number, beside: number, aim: number) =>
  console.log(
    `${label.padEnd(30)} ${(ms / 1000).toFixed(1).padStart(7)} s  ratio ${(ms / beside).toFixed(2)} (aim: at most ${aim})`,
  );
console.log(`${ROWS.toLocaleString('en')} rows; plain statements take ${(bare / 1000).toFixed(1)} s.`);
told('imported', added, bare, 5);
told('imported, all or nothing', allOrNothing, bare, 5);
told('tried', tried, added, 2);
told('updated', changed, added, 2);
told('an update tried', triedChange, added, 2);
rmSync(folder, { recursive: true });
await server.close();
