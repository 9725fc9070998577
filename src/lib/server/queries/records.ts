import type { Transaction } from 'sequelize';
import type { ContentRecord, Status } from '../../core/schema/record';
import { fromJson, run, select } from '../database/connect';
import { touchRecords } from '../database/touched';
import { fold } from '../../core/base/text';
import { listed } from './sql';

export type Titled = Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>;

interface Id {
  id: number;
}

const idsOf = (rows: Id[]): number[] => rows.map((row) => row.id);

/** Numbers of the records of a type above one, so many at a time, in their order. */
export const recordIdsAfter = async (
  typeId: string,
  after: number,
  limit: number,
  transaction?: Transaction,
): Promise<number[]> =>
  idsOf(
    await select<Id>(
      'SELECT id FROM records WHERE type_id = ? AND id > ? ORDER BY id LIMIT ?',
      [typeId, after, limit],
      transaction,
    ),
  );

/** Numbers of all records of a type, or of those that were made up. */
export const recordIdsOfType = async (
  typeId: string,
  { madeUp = false } = {},
  transaction?: Transaction,
): Promise<number[]> =>
  idsOf(
    await select<Id>(
      `SELECT id FROM records WHERE type_id = ?${madeUp ? ' AND is_generated = TRUE' : ''}`,
      [typeId],
      transaction,
    ),
  );

/** How many records of a type were made up. */
export async function countSamples(typeId: string): Promise<number> {
  const [row] = await select<{ n: number }>(
    'SELECT COUNT(*) AS n FROM records WHERE type_id = ? AND is_generated = TRUE',
    [typeId],
  );
  return Number(row?.n);
}

/** Titles of the newest records of these types. */
export const newestTitles = (typeIds: readonly string[], limit: number): Promise<Titled[]> =>
  select<Titled>(
    'SELECT id, title, type_id AS typeId, status FROM records WHERE type_id IN (?) ORDER BY id DESC LIMIT ?',
    [typeIds, limit],
  );

/** Titles of these records. */
export const titlesOf = async (ids: number[]): Promise<Titled[]> =>
  ids.length ? select<Titled>('SELECT id, title, type_id AS typeId, status FROM records WHERE id IN (?)', [ids]) : [];

export const slugsOf = async (ids: number[]): Promise<(Id & { slug: string })[]> =>
  ids.length ? select<Id & { slug: string }>('SELECT id, slug FROM records WHERE id IN (?)', [ids]) : [];

/** Records of a type at these slugs. */
export const recordsAtSlugs = async (
  typeId: string,
  slugs: readonly string[],
  transaction?: Transaction,
): Promise<(Id & { slug: string; title: string; status: Status })[]> =>
  slugs.length
    ? select<Id & { slug: string; title: string; status: Status }>(
        'SELECT id, slug, title, status FROM records WHERE type_id = ? AND slug IN (?)',
        [typeId, slugs],
        transaction,
      )
    : [];

/** Those of these slugs that other records of the type have. */
export const slugsTaken = async (
  typeId: string,
  but: number,
  slugs: readonly string[],
  transaction?: Transaction,
): Promise<string[]> =>
  (await recordsAtSlugs(typeId, slugs, transaction)).filter(({ id }) => id !== but).map(({ slug }) => slug);

/** Slugs of other records of the type that begin with `base-`. */
export const slugsNumbered = async (
  typeId: string,
  but: number,
  base: string,
  transaction?: Transaction,
): Promise<string[]> =>
  (
    await select<{ slug: string }>(
      'SELECT slug FROM records WHERE type_id = ? AND id <> ? AND slug LIKE ?',
      [typeId, but, `${base}-%`],
      transaction,
    )
  ).map(({ slug }) => slug);

/** Records of these types that have one of the texts as their slug, or as their title without case. */
export const recordsCalled = async (
  typeIds: string[],
  texts: string[],
  transaction: Transaction,
): Promise<{ id: number; slug: string; title: string }[]> => {
  const folded = new Set(texts.map(fold));
  // The collation of titles finds more than is meant: accents too are all one to it.
  const rows = await select<{ id: number; slug: string; title: string }>(
    'SELECT id, slug, title FROM records WHERE type_id IN (?) AND slug IN (?) UNION SELECT id, slug, title FROM records WHERE type_id IN (?) AND title IN (?)',
    [typeIds, texts, typeIds, texts],
    transaction,
  );
  return rows.filter(({ slug, title }) => texts.includes(slug) || folded.has(fold(title)));
};

/** Those of these numbers that a record, or a picture or file, has. */
export async function idsThere(
  among: 'records' | 'media',
  ids: readonly number[],
  transaction?: Transaction,
): Promise<Set<number>> {
  const asked = [...new Set(ids)];
  return new Set(
    asked.length ? idsOf(await select<Id>(`SELECT id FROM ${among} WHERE id IN (?)`, [asked], transaction)) : [],
  );
}

/** What stands in a record's own row. */
export interface RecordRow {
  id: number;
  typeId: string;
  title: string;
  slug: string;
  status: string;
  created: Date;
  changed: Date;
  published: Date | null;
  version: number;
  authorId: number | null;
  values: Record<string, unknown>;
}

async function recordRows(
  ids: readonly number[],
  end: '' | 'FOR UPDATE',
  transaction?: Transaction,
): Promise<RecordRow[]> {
  if (!ids.length) return [];
  const rows = await select<RecordRow>(
    `SELECT id, type_id AS typeId, title, slug, status, created, changed, published, version, author_id AS authorId, \`values\` FROM records WHERE id IN (?) ORDER BY id ${end}`,
    [ids],
    transaction,
  );
  return rows.map((row) => ({ ...row, values: { ...fromJson<Record<string, unknown>>(row.values) } }));
}

/** Everything of these records that stands in their own rows, as it is now. */
export const readRows = (ids: number[], transaction?: Transaction): Promise<RecordRow[]> =>
  recordRows(ids, '', transaction);

/** The same, held to the end of the transaction: what is written from them is written over nobody else's. */
export const lockRows = (ids: number[], transaction: Transaction): Promise<RecordRow[]> =>
  recordRows(ids, 'FOR UPDATE', transaction);

/** One record's row, held to the end of the transaction. */
export const lockRow = async (id: number, transaction: Transaction): Promise<RecordRow | undefined> =>
  (await recordRows([id], 'FOR UPDATE', transaction))[0];

/** These records without their values, held to the end of the transaction. */
export const lockHeads = async (
  ids: readonly number[],
  transaction: Transaction,
): Promise<Pick<RecordRow, 'id' | 'typeId' | 'status' | 'title'>[]> =>
  ids.length
    ? select<Pick<RecordRow, 'id' | 'typeId' | 'status' | 'title'>>(
        'SELECT id, type_id AS typeId, status, title FROM records WHERE id IN (?) ORDER BY id FOR UPDATE',
        [ids],
        transaction,
      )
    : [];

/** The types of these records. */
export const typesById = async (
  ids: readonly number[],
  transaction?: Transaction,
): Promise<{ id: number; typeId: string }[]> =>
  ids.length
    ? select<{ id: number; typeId: string }>(
        'SELECT id, type_id AS typeId FROM records WHERE id IN (?)',
        [ids],
        transaction,
      )
    : [];

/** The columns of a record beside its number, and what stands in them. */
const COLUMNS = 'type_id, title, slug, status, created, changed, published, `values`, version, author_id';
const cellsOf = (row: Omit<RecordRow, 'id'>): unknown[] => [
  row.typeId,
  row.title,
  row.slug,
  row.status,
  row.created,
  row.changed,
  row.published,
  JSON.stringify(row.values),
  row.version,
  row.authorId,
];

/** Puts records in, made up or not; gives their numbers, in the order of the rows. */
export const insertRows = async (
  rows: readonly Omit<RecordRow, 'id'>[],
  madeUp: boolean,
  transaction: Transaction,
): Promise<number[]> => {
  const ids = idsOf(
    await select<Id>(
      `INSERT INTO records (${COLUMNS}, is_generated) VALUES ? RETURNING id`,
      [rows.map((row) => [...cellsOf(row), madeUp])],
      transaction,
    ),
  );
  touchRecords(ids, transaction);
  return ids;
};

/** Sets columns of a record. Their names come from the code, never from outside. */
export const updateRow = (
  id: number,
  columns: ReadonlyMap<string, unknown>,
  transaction: Transaction,
): Promise<void> => {
  touchRecords([id], transaction);
  return run(
    `UPDATE records SET ${[...columns.keys()].map((column) => `${column} = ?`).join(', ')} WHERE id = ?`,
    [...columns.values(), id],
    transaction,
  );
};

/** Writes records that are there, and locked, with what is given for them now. */
export async function updateRows(rows: readonly RecordRow[], transaction: Transaction): Promise<void> {
  if (!rows.length) return;
  touchRecords(
    rows.map(({ id }) => id),
    transaction,
  );
  await run(
    `INSERT INTO records (id, ${COLUMNS}) VALUES ? ON DUPLICATE KEY UPDATE title = VALUES(title), status = VALUES(status), changed = VALUES(changed), published = VALUES(published), \`values\` = VALUES(\`values\`), version = VALUES(version), author_id = VALUES(author_id)`,
    [rows.map((row) => [row.id, ...cellsOf(row)])],
    transaction,
  );
}

/** Writes the values of a record anew, as its next version. */
export const writeValues = (
  { id, values }: { id: number; values: Record<string, unknown> },
  transaction: Transaction,
): Promise<void> => {
  touchRecords([id], transaction);
  return run(
    'UPDATE records SET `values` = ?, version = version + 1 WHERE id = ?',
    [JSON.stringify(values), id],
    transaction,
  );
};

export const nextVersions = (ids: number[], changed: Date, transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run('UPDATE records SET changed = ?, version = version + 1 WHERE id IN (?)', [changed, ids], transaction);
};

/** What is published without a time, or with one to come, is published from now on. */
export const setStatus = (ids: number[], status: string, now: Date, transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run(
    "UPDATE records SET status = ?, published = IF(? = 'published' AND (published IS NULL OR published > ?), ?, published) WHERE id IN (?)",
    [status, status, now, now, ids],
    transaction,
  );
};

export const setAuthor = (ids: number[], authorId: number | null, transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run('UPDATE records SET author_id = ? WHERE id IN (?)', [authorId, ids], transaction);
};

export const takeAuthorOff = async (authorId: number, transaction: Transaction): Promise<void> => {
  touchRecords(
    idsOf(await select<Id>('SELECT id FROM records WHERE author_id = ?', [authorId], transaction)),
    transaction,
  );
  await run('UPDATE records SET author_id = NULL WHERE author_id = ?', [authorId], transaction);
};

/** Whether a scheduled record's time has come. */
export const isAnyDue = async (now: Date): Promise<boolean> =>
  (await select("SELECT 1 FROM records WHERE status = 'scheduled' AND published <= ? LIMIT 1", [now])).length > 0;

/** Scheduled records whose time has come and that no other process is at, 500 at a time. */
export const lockDue = async (now: Date, transaction: Transaction): Promise<number[]> =>
  idsOf(
    await select<Id>(
      "SELECT id FROM records WHERE status = 'scheduled' AND published <= ? ORDER BY id LIMIT 500 FOR UPDATE SKIP LOCKED",
      [now],
      transaction,
    ),
  );

export const publishRows = (ids: number[], transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run("UPDATE records SET status = 'published', version = version + 1 WHERE id IN (?)", [ids], transaction);
};

/** What an address and a line in a list of all pages need of a published record. */
export interface PublishedRow {
  id: number;
  title: string;
  slug: string;
  typeId: string;
  authorId: number | null;
  published: Date | null;
  changed: Date;
}

const PUBLISHED_ROW =
  "SELECT id, title, slug, type_id AS typeId, author_id AS authorId, published, changed FROM records WHERE status = 'published'";

export const publishedRows = (typeIds: readonly string[], limit: number, offset: number): Promise<PublishedRow[]> =>
  select<PublishedRow>(`${PUBLISHED_ROW} AND type_id IN (?) ORDER BY id LIMIT ? OFFSET ?`, [
    listed(typeIds),
    limit,
    offset,
  ]);

/** Those of these records that are published. */
export const publishedByIds = (ids: readonly number[]): Promise<PublishedRow[]> =>
  select<PublishedRow>(`${PUBLISHED_ROW} AND id IN (?)`, [ids.length ? ids : [0]]);

/** Whether a type has anything published from one time to before another. */
export const isAnyPublished = async (typeId: string, from: Date, until: Date): Promise<boolean> =>
  (
    await select(
      "SELECT 1 FROM records WHERE type_id = ? AND status = 'published' AND published >= ? AND published < ? LIMIT 1",
      [typeId, from, until],
    )
  ).length > 0;
