import { rm } from 'node:fs/promises';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { problemsOf } from '../../../core/base/result';
import { inTransaction } from '../../database/connect';
import { migrations } from '../../database/migrations';
import { showNoRelease } from '../../queries/model';
import { noteWork } from '../../queries/restoring';
import { touchEverything } from '../../database/touched';
import { receive } from '../../files/local';
import { files } from '../../files/store';
import type { Progress } from '../../jobs/jobs';
import { columnsOf, emptyTable, insertPlain, setParents, updateSite, type PlainRow } from '../../queries/snapshot';
import { Refusal } from '../../base/refusal';
import { cleanSvg } from '../../services/html';
import { clearReleases } from '../../services/designs';
import { modelMoved } from '../../queries/site';
import { zipFiles } from '../sources';
import { accountNumbers } from './accounts';
import { Cells, Filling, json, refused, ROWS, wrong } from './rows';
import { BACKUP_TABLES, partOf, VERSION, type BackupTable } from './tables';

const LIMITS = { each: 40_000_000_000, all: 200_000_000_000 };
/** Characters of one row: a release holds a whole design. */
const LONGEST_ROW = 256_000_000;
const BATCH = { rows: 1000, characters: 8_000_000 };
const MEDIA = /^media\/([0-9a-z]{1,64}\.[a-z0-9]{2,5})$/;

export const Head = z.object({
  format: z.literal('plum-thread-backup'),
  version: z.literal(VERSION),
  schema: z.string(),
  withPeople: z.boolean(),
  rows: z.record(z.string(), z.number().int().min(0)),
});
type Head = z.infer<typeof Head>;

export interface Restored {
  types: number;
  records: number;
  links: number;
  media: number;
  templates: number;
  releases: number;
  /** Whether somebody can sign in with what they had. */
  withPeople: boolean;
}

/** Lines of a part with their numbers, from 1. */
async function* lines(bytes: AsyncIterable<Uint8Array>, part: string): AsyncGenerator<{ text: string; line: number }> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  let rest = '';
  let line = 0;
  const decoded = (piece?: Uint8Array): string => {
    try {
      return piece ? decoder.decode(piece, { stream: true }) : decoder.decode();
    } catch {
      throw wrong(`${part}, line ${line + 1}`, 'This is not UTF-8; the backup is damaged.');
    }
  };
  for await (const piece of bytes) {
    const parts = decoded(piece).split('\n');
    parts[0] = rest + (parts[0] ?? '');
    rest = parts.pop() ?? '';
    if (rest.length > LONGEST_ROW) throw wrong(`${part}, line ${line + 1}`, 'This row is longer than 256 MB.');
    for (const text of parts) yield { text, line: ++line };
  }
  rest += decoded();
  if (rest) throw wrong(`${part}, line ${line + 1}`, 'The part ends within a row; the backup is damaged.');
}

const Columns = z.array(z.string().max(64)).min(1).max(100);
const Row = z.array(z.string().nullable());

/** Every name in a zip, before anything of it is read; refused with the list of those that no backup has. */
async function checkNames(path: string): Promise<void> {
  const names: string[] = [];
  const note = (name: string) => {
    names.push(name);
    return false;
  };
  for await (const _ of zipFiles(path, { ...LIMITS, wanted: note }));
  const known = new Set(['backup.json', 'missing.json', ...BACKUP_TABLES.map(({ name }) => partOf(name))]);
  const strange = names.filter((name) => !known.has(name) && !MEDIA.test(name));
  const twice = names.filter((name, i) => names.indexOf(name) !== i);
  if (!strange.length && !twice.length) return;
  throw refused(
    [
      ...strange.map((at) => ({ at, what: 'No backup has a part of this name.' })),
      ...twice.map((at) => ({ at, what: 'This part is in it twice.' })),
    ]
      .slice(0, 100)
      .map((one) => ({ ...one, fix: 'Take the file as it was written.' })),
  );
}

function checkSchema({ schema }: Head): void {
  if (!migrations.some(({ name }) => name === schema))
    throw wrong(
      'backup.json',
      `This backup was written by a newer Plum Thread, whose tables are of “${schema.slice(0, 80)}”.`,
      'Restore it with that one.',
    );
}

/** Puts files of the library in their places, each under the hash of its content; gives how many. */
async function takeFiles(path: string, step: () => void): Promise<number> {
  let count = 0;
  for await (const { name, bytes } of zipFiles(path, { ...LIMITS, wanted: (one) => MEDIA.test(one) })) {
    const file = MEDIA.exec(name)?.[1] ?? '';
    const drawing = file.endsWith('.svg');
    const { path: aside, hash } = await receive(file, drawing ? cleaned(bytes) : bytes, LIMITS.each);
    try {
      const says = /^([0-9a-f]{64})\./.exec(file)?.[1];
      if (says && says !== hash && !drawing)
        throw wrong(name, 'Its content is not that which it is named after; the backup is damaged.');
      if (!(await files().has(file))) await files().take(aside, file);
    } finally {
      await rm(aside, { force: true });
    }
    count++;
    step();
  }
  return count;
}

async function* cleaned(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const pieces: Uint8Array[] = [];
  for await (const piece of bytes) pieces.push(piece);
  yield Buffer.from(cleanSvg(Buffer.concat(pieces).toString('utf8')));
}

async function fillTable(
  { name, secrets = [], secret, accounts = [] }: BackupTable,
  bytes: AsyncIterable<Uint8Array>,
  head: Head,
  filling: Filling,
  transaction: Transaction,
  step: () => void,
): Promise<number> {
  const part = partOf(name);
  if (secret && !head.withPeople) throw wrong(part, 'This backup says that it is without people, and has this part.');
  const own = new Set(await columnsOf(name, transaction));
  let columns: string[] | undefined;
  let rows: PlainRow[] = [];
  let [characters, count] = [0, 0];
  const flush = async () => {
    await putRows(name, columns ?? [], rows, transaction);
    rows = [];
    characters = 0;
  };
  for await (const { text, line } of lines(bytes, part)) {
    const at = `${part}, line ${line}`;
    if (!columns) {
      columns = json(Columns, text, at);
      const strange = columns.filter((one) => !own.has(one) || (!head.withPeople && secrets.includes(one)));
      if (strange.length) throw wrong(at, `There is no column ${strange.join(', ')}.`, 'Use a newer Plum Thread.');
      continue;
    }
    const row = json(Row, text, at);
    if (row.length !== columns.length)
      throw wrong(at, `This row has ${row.length} values; there are ${columns.length} columns.`);
    const cells = new Cells(columns, row);
    ROWS[name]?.(cells, at, filling);
    for (const column of accounts) cells.set(column, filling.accounts?.numberOf(cells.get(column)) ?? null);
    if (name === 'accounts' && !filling.accounts?.add(cells)) continue;
    if (
      (name === 'passkeys' || name === 'recovery_codes' || name === 'record_shares') &&
      cells.get('account_id') === null
    )
      continue;
    rows.push(row);
    characters += text.length;
    count++;
    step();
    if (rows.length >= BATCH.rows || characters >= BATCH.characters) await flush();
  }
  await flush();
  return count;
}

async function putRows(
  name: string,
  columns: readonly string[],
  rows: readonly PlainRow[],
  transaction: Transaction,
): Promise<void> {
  if (name === 'sites') {
    const [row] = rows;
    const without = columns.filter((one) => one !== 'id');
    if (row)
      await updateSite(
        without,
        without.map((one) => row[columns.indexOf(one)] ?? null),
        transaction,
      );
    return;
  }
  await insertPlain(name, columns, rows, transaction).catch((error: unknown) => {
    const { errno, sqlMessage } = error as { errno?: number; sqlMessage?: string };
    // A key that leads nowhere, twice the same, or a value that no column takes: the zip is not as it was written.
    if (errno === 1452 || errno === 1062 || errno === 1366 || errno === 1406 || errno === 4025)
      throw wrong(
        partOf(name),
        `A row does not fit: ${(sqlMessage ?? '').slice(0, 200)}.`,
        'Take the file as it was written.',
      );
    throw error;
  });
}

/** Fills an empty place from a backup: the same rows, the same release before visitors, nothing released anew. All or nothing, but for files, which are harmless alone. */
export async function restoreBackup(
  path: string,
  headText: unknown,
  progress: Progress,
  refuseFull: (transaction?: Transaction) => Promise<void>,
): Promise<Restored> {
  const head = Head.safeParse(headText);
  if (!head.success) throw refused(problemsOf(head.error, 'backup.json'));
  await checkNames(path);
  checkSchema(head.data);
  await refuseFull();
  const total = Object.values(head.data.rows).reduce((sum, n) => sum + n, head.data.rows.media ?? 0);
  let done = 0;
  const step = () => {
    if (progress.signal.aborted) throw new Refusal(409, 'It was cancelled. Nothing was changed.');
    if (++done % 100 === 0) progress.report(done, total);
  };
  const media = await takeFiles(path, step);
  const counts: Record<string, number> = {};
  await inTransaction(async (transaction) => {
    await refuseFull(transaction);
    const filling = new Filling();
    filling.accounts = await accountNumbers(transaction);
    await showNoRelease(transaction);
    // Whoever is here already stays; so does what they did.
    const stay = new Set(['sites', 'accounts', 'passkeys', 'recovery_codes', 'activities']);
    for (const { name } of [...BACKUP_TABLES].reverse()) if (!stay.has(name)) await emptyTable(name, transaction);
    const byPart = new Map(BACKUP_TABLES.map((one) => [partOf(one.name), one]));
    for await (const { name, bytes } of zipFiles(path, { ...LIMITS, wanted: (one) => byPart.has(one) })) {
      const one = byPart.get(name)!;
      counts[one.name] = await fillTable(one, bytes, head.data, filling, transaction, step);
    }
    for (const [name, expected] of Object.entries(head.data.rows))
      if (name !== 'accounts' && name !== 'record_shares' && (counts[name] ?? 0) !== expected)
        throw wrong(
          partOf(name),
          `It has ${counts[name] ?? 0} rows; ${expected} were written.`,
          'The file may be cut off; take it anew.',
        );
    await setParents(filling.parents, transaction);
    await noteWorkLeft(head.data.schema, transaction);
    touchEverything(transaction);
    await modelMoved(transaction);
  });
  clearReleases();
  progress.report(total, total);
  const of = (name: string) => counts[name] ?? 0;
  return {
    types: of('content_types'),
    records: of('records'),
    links: of('links'),
    media,
    templates: of('templates'),
    releases: of('releases'),
    withPeople: head.data.withPeople,
  };
}

/** What later migrations left to do with rows of before them is to be done with these. */
async function noteWorkLeft(schema: string, transaction: Transaction): Promise<void> {
  const from = migrations.findIndex(({ name }) => name === schema);
  const names = migrations.slice(from + 1).flatMap(({ leaves }) => leaves);
  await noteWork(names, transaction);
}
