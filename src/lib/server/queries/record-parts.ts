import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';
import { touchEverything, touchRecords } from '../database/touched';

/** How many rows one statement takes, so that it stays within what the server accepts. */
const AT_ONCE = 2000;

/** What is kept of records besides their own rows, with the columns of each in the order of its rows. */
const PARTS = {
  record_index: 'record_id, field_id, part, type_id, is_empty, number, text, sort',
  record_words: 'record_id, field_id, type_id, words',
  record_terms: 'record_id, term_id, position',
  mentions: 'record_id, field_id, target, target_id',
  unique_values: 'field_id, value_key, record_id',
} as const;

export type RecordPart = keyof typeof PARTS;
/** Those that know which field a row comes from. */
export type FieldPart = Exclude<RecordPart, 'record_terms'>;

export const FIELD_PARTS: readonly FieldPart[] = ['record_index', 'record_words', 'mentions', 'unique_values'];

/** Where the number of the record stands in the rows of a part. */
const idAt = (part: RecordPart): number => PARTS[part].split(', ').indexOf('record_id');

/** Puts rows in; those that are there already under the same key are written over, if that is said. */
export async function insertParts(
  part: RecordPart,
  rows: unknown[][],
  transaction?: Transaction,
  over = false,
): Promise<void> {
  const at = idAt(part);
  touchRecords(new Set(rows.map((row) => row[at] as number)), transaction);
  for (let i = 0; i < rows.length; i += AT_ONCE)
    await run(
      `INSERT INTO ${part} (${PARTS[part]}) VALUES ?${
        over
          ? ` ON DUPLICATE KEY UPDATE ${PARTS[part]
              .split(', ')
              .map((column) => `\`${column}\` = VALUES(\`${column}\`)`)
              .join(', ')}`
          : ''
      }`,
      [rows.slice(i, i + AT_ONCE)],
      transaction,
    );
}

/** By which columns of a part a row is known. */
const KEYS: Record<FieldPart, number> = { record_index: 3, record_words: 2, mentions: 4, unique_values: 2 };

/** A row as it is compared: of what the database gives and of what is written. */
const asText = (row: readonly unknown[]): string =>
  JSON.stringify(row.map((value) => (typeof value === 'boolean' ? Number(value) : value)));

/**
 * Has a part hold these rows, and no others, of these records; of some fields only, where they are named. Rows that are
 * there already are left alone. Nothing is looked for where the records are `fresh`.
 */
export async function replaceParts(
  part: FieldPart,
  ids: readonly number[],
  rows: unknown[][],
  { only, fresh, transaction }: { only?: readonly string[]; fresh?: boolean; transaction?: Transaction },
): Promise<void> {
  if (fresh) return insertParts(part, rows, transaction);
  const columns = PARTS[part].split(', ');
  const there = await select<Record<string, unknown>>(
    `SELECT ${PARTS[part]} FROM ${part} WHERE record_id IN (?)${only ? ' AND field_id IN (?)' : ''}`,
    only ? [ids, only] : [ids],
    transaction,
  );
  const keyLength = KEYS[part];
  const keyOf = (row: readonly unknown[]) => asText(row.slice(0, keyLength));
  const wanted = new Map(rows.map((row) => [keyOf(row), row]));
  const gone: unknown[][] = [];
  const changed = new Set<string>();
  for (const found of there) {
    const row = columns.map((column) => found[column]);
    const key = keyOf(row);
    const next = wanted.get(key);
    if (next && asText(next) === asText(row)) wanted.delete(key);
    // A unique value is never written over: it may be another record's by now.
    else if (next && part !== 'unique_values') changed.add(key);
    else gone.push(row);
  }
  const at = idAt(part);
  touchRecords(
    gone.map((row) => row[at] as number),
    transaction,
  );
  const one = `(${columns
    .slice(0, keyLength)
    .map((column) => `${column} = ?`)
    .join(' AND ')})`;
  for (let i = 0; i < gone.length; i += KEYS_AT_ONCE) {
    const some = gone.slice(i, i + KEYS_AT_ONCE);
    const keys = some.flatMap((row) => row.slice(0, keyLength));
    await run(`DELETE FROM ${part} WHERE ${some.map(() => one).join(' OR ')}`, keys, transaction);
  }
  await insertParts(part, [...wanted.values()], transaction, changed.size > 0);
}
/** So many rows are taken away by their keys in one statement; the server looks each up by its key then. */
const KEYS_AT_ONCE = 200;

/** Takes away what a part has of these records. */
export const clearRecords = (part: RecordPart, ids: readonly number[], transaction?: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run(`DELETE FROM ${part} WHERE record_id IN (?)`, [ids], transaction);
};

/** Takes these records from under all terms, but for those of taxonomies that are removed and only kept. */
export const clearOwnTerms = (ids: readonly number[], transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run(
    'DELETE FROM record_terms WHERE record_id IN (?) AND term_id NOT IN (SELECT t.id FROM terms t JOIN taxonomies x ON x.id = t.taxonomy_id WHERE x.is_removed)',
    [ids],
    transaction,
  );
};

/** Takes away what a part has of these fields in any record. */
export const clearFields = (part: FieldPart, fieldIds: readonly string[], transaction: Transaction): Promise<void> => {
  touchEverything(transaction);
  return run(`DELETE FROM ${part} WHERE field_id IN (?)`, [fieldIds], transaction);
};

/** Which of these keys of a unique field are taken by other records, and the title of the record that has each. */
export const keysTaken = (
  fieldId: string,
  keys: readonly string[],
  but: readonly number[],
  transaction: Transaction,
): Promise<{ key: string; title: string }[]> =>
  select<{ key: string; title: string }>(
    'SELECT u.value_key AS `key`, r.title FROM unique_values u JOIN records r ON r.id = u.record_id WHERE u.field_id = ? AND u.value_key IN (?) AND u.record_id NOT IN (?)',
    [fieldId, keys, but],
    transaction,
  );

/** Records whose values point at one of these. */
export const recordsMentioning = async (
  target: 'record' | 'media',
  ids: readonly number[],
  transaction: Transaction,
): Promise<number[]> =>
  (
    await select<{ id: number }>(
      'SELECT DISTINCT record_id AS id FROM mentions WHERE target = ? AND target_id IN (?)',
      [target, ids],
      transaction,
    )
  ).map(({ id }) => id);

/** Where a picture or file stands, 200 places at most. */
export const placesOfMedia = (id: number): Promise<{ id: number; title: string; typeId: string; fieldId: string }[]> =>
  select<{ id: number; title: string; typeId: string; fieldId: string }>(
    "SELECT r.id, r.title, r.type_id AS typeId, m.field_id AS fieldId FROM mentions m JOIN records r ON r.id = m.record_id WHERE m.target = 'media' AND m.target_id = ? ORDER BY r.title, r.id, m.field_id LIMIT 200",
    [id],
  );

/** The terms of these records, record by record, in their order. */
export const termsOfRecords = (
  ids: readonly number[],
  transaction?: Transaction,
): Promise<{ id: number; term: string }[]> =>
  select<{ id: number; term: string }>(
    'SELECT record_id AS id, term_id AS term FROM record_terms WHERE record_id IN (?) ORDER BY record_id, position',
    [ids],
    transaction,
  );

/** Records under a term itself, not those below. */
export const recordsUnder = async (termId: string, transaction: Transaction): Promise<number[]> =>
  (
    await select<{ id: number }>('SELECT record_id AS id FROM record_terms WHERE term_id = ?', [termId], transaction)
  ).map(({ id }) => id);

/** Files whatever is under one term under another as well. */
export const fileAlsoUnder = async (termId: string, other: string, transaction: Transaction): Promise<void> => {
  touchRecords(await recordsUnder(termId, transaction), transaction);
  await run(
    'INSERT IGNORE INTO record_terms (record_id, term_id, position) SELECT record_id, ?, position FROM record_terms WHERE term_id = ?',
    [other, termId],
    transaction,
  );
};

export const clearTerm = async (termId: string, transaction: Transaction): Promise<void> => {
  touchRecords(await recordsUnder(termId, transaction), transaction);
  await run('DELETE FROM record_terms WHERE term_id = ?', [termId], transaction);
};

/** Files records under more terms, after those they have. */
export const fileUnder = (ids: number[], termIds: string[], transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run(
    'INSERT IGNORE INTO record_terms (record_id, term_id, position) VALUES ?',
    [ids.flatMap((id) => termIds.map((term, i) => [id, term, 1000 + i]))],
    transaction,
  );
};

export const fileNoMoreUnder = (ids: number[], termIds: string[], transaction: Transaction): Promise<void> => {
  touchRecords(ids, transaction);
  return run('DELETE FROM record_terms WHERE record_id IN (?) AND term_id IN (?)', [ids, termIds], transaction);
};
