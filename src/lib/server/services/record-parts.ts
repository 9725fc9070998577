import type { Transaction } from 'sequelize';
import { run, fromJson, select } from '../database/connect';
import { isIndexed } from '../../core/model/kinds/kind';
import { leadsOf, roleOfField, isList } from '../../core/model/field';
import { STATUSES, type Status } from '../../core/schema/record';
import { createHash } from 'node:crypto';
import { refsOf } from '../../core/model/kinds/rows';
import { kindOf, type Field } from '../../core/model/model';
import type { ContentType } from '../../core/schema/model';
import { sortText } from '../../core/base/collation';
import { searchedText } from '../../core/content/search';
import { wordsOf } from '../../core/base/words';
import { problem, type Problem } from '../../core/base/result';
import { fold } from '../../core/base/text';

/** A record as its row has it, with what follows from it still to be written. */
export interface Kept {
  id: number;
  title: string;
  status: string;
  created: Date;
  changed: Date;
  published: Date | null;
  authorId: number | null;
  values: Record<string, unknown>;
}

/** Everything of these records that stands in their own rows, as it is now. */
export async function keptRecords(ids: number[], transaction?: Transaction): Promise<Kept[]> {
  if (!ids.length) return [];
  const rows = await select<Kept>(
    'SELECT id, title, status, created, changed, published, author_id AS authorId, `values` FROM records WHERE id IN (?) ORDER BY id',
    [ids],
    transaction,
  );
  return rows.map((row) => ({ ...row, values: { ...fromJson<Record<string, unknown>>(row.values) } }));
}

/** Inserts many rows, in statements of a size that the server takes. */
async function insertMany(into: string, rows: unknown[][], transaction?: Transaction): Promise<void> {
  for (let i = 0; i < rows.length; i += 2000)
    await run(`INSERT INTO ${into} VALUES ?`, [rows.slice(i, i + 2000)], transaction);
}

const COLUMNS = 'record_index (record_id, type_id, field_id, shown, part, is_empty, number, text, sort)';

function indexRows(type: ContentType, record: Kept, only?: ReadonlySet<string>): unknown[][] {
  const rows: unknown[][] = [];
  const add = (fieldId: string, part: number, empty: boolean, number?: number, text?: string, sort?: string) => {
    if (!only || only.has(fieldId))
      rows.push([
        record.id,
        type.id,
        fieldId,
        record.status === 'published',
        part,
        empty,
        number ?? null,
        text ?? null,
        sort === undefined ? null : sortText(sort),
      ]);
  };
  add('@title', 0, false, undefined, fold(record.title), record.title);
  add('@type', 0, false, undefined, type.id);
  add('@status', 0, false, STATUSES.indexOf(record.status as Status), record.status);
  add('@created', 0, false, record.created.getTime());
  add('@changed', 0, false, record.changed.getTime());
  add('@published', 0, !record.published, record.published?.getTime());
  for (const field of type.fields) {
    const known = kindOf(field);
    if (!known || leadsOf(field) === 'record') continue;
    const value = record.values[field.id];
    const list = value === undefined ? [] : isList(known) ? (value as unknown[]) : [value];
    const filled = list.filter((one) => !known.kind.isEmpty(one));
    if (!filled.length) add(field.id, 0, true);
    for (const [part, one] of filled.entries()) {
      const { number, text, sort } = known.kind.family.columns;
      const of = <T>(column: ((value: unknown, settings: unknown) => T) | undefined) => column?.(one, known.settings);
      if (part === 0 || isIndexed(known.kind)) add(field.id, part, false, of(number), of(text), of(sort));
    }
  }
  return rows;
}

/** Writes anew what lists look up of these records; of some fields only, where they are named. */
export async function writeIndex(
  type: ContentType,
  records: Kept[],
  transaction?: Transaction,
  only?: ReadonlySet<string>,
): Promise<void> {
  if (!records.length) return;
  const ids = records.map((record) => record.id);
  for (const table of ['record_index', 'record_words'])
    if (only)
      await run(`DELETE FROM ${table} WHERE record_id IN (?) AND field_id IN (?)`, [ids, [...only]], transaction);
    else await run(`DELETE FROM ${table} WHERE record_id IN (?)`, [ids], transaction);
  await insertMany(
    COLUMNS,
    records.flatMap((record) => indexRows(type, record, only)),
    transaction,
  );
  await insertMany(
    'record_words (record_id, type_id, field_id, words)',
    records.flatMap((record) => wordRows(type, record, only)),
    transaction,
  );
}

/** The words of a record's title and running text, for searches. */
function wordRows(type: ContentType, record: Kept, only?: ReadonlySet<string>): unknown[][] {
  const texts: [string, string][] = [
    ['@title', record.title],
    ...type.fields.map((field): [string, string] => [field.id, searchedText(field, record.values[field.id])]),
  ];
  return texts.flatMap(([fieldId, text]) => {
    const words = text && (!only || only.has(fieldId)) ? wordsOf(text) : [];
    return words.length ? [[record.id, type.id, fieldId, words.join(' ')]] : [];
  });
}

/** Writes anew which records and files the values of these records point at. */
export async function writeMentions(type: ContentType, records: Kept[], transaction?: Transaction): Promise<void> {
  if (!records.length) return;
  const rows = records.flatMap((record) =>
    type.fields.flatMap((field) => {
      if (leadsOf(field) === 'record') return [];
      const refs = refsOf(field, record.values[field.id]);
      return [
        ...[...new Set(refs.records)].map((id) => [record.id, field.id, 'record', id]),
        ...[...new Set(refs.media)].map((id) => [record.id, field.id, 'media', id]),
      ];
    }),
  );
  await run('DELETE FROM mentions WHERE record_id IN (?)', [records.map((record) => record.id)], transaction);
  await insertMany('mentions (record_id, field_id, target, target_id)', rows, transaction);
}

/** What two equal values have in common: text without case, everything else as it is. */
const uniqueKey = (value: unknown): string =>
  createHash('sha256')
    .update(typeof value === 'string' ? `t${fold(value.trim())}` : JSON.stringify(value))
    .digest('hex');

/** Writes anew the values that no two records may share, and tells which are taken. */
export async function writeUnique(
  type: ContentType,
  records: Kept[],
  transaction: Transaction,
): Promise<(Problem & { recordId: number })[]> {
  const fields = type.fields.filter((field) => field.unique && leadsOf(field) !== 'record');
  if (!records.length || !fields.length) return [];
  const ids = records.map((record) => record.id);
  await run(
    'DELETE FROM unique_values WHERE record_id IN (?) AND field_id IN (?)',
    [ids, fields.map((f) => f.id)],
    transaction,
  );
  const problems: (Problem & { recordId: number })[] = [];
  for (const field of fields) {
    const own = new Map<string, number>();
    const keys = records.flatMap((record) => {
      const value = record.values[field.id];
      return value === undefined ? [] : [{ record, key: uniqueKey(value) }];
    });
    if (!keys.length) continue;
    const taken = await select<{ key: string; title: string }>(
      'SELECT u.value_key AS `key`, r.title FROM unique_values u JOIN records r ON r.id = u.record_id WHERE u.field_id = ? AND u.value_key IN (?)',
      [field.id, keys.map(({ key }) => key)],
      transaction,
    );
    const titles = new Map(taken.map((row) => [row.key, row.title]));
    for (const { record, key } of keys) {
      const other = titles.get(key) ?? (own.has(key) ? records.find((r) => r.id === own.get(key))?.title : undefined);
      if (other === undefined) own.set(key, record.id);
      else
        problems.push({
          ...problem(
            `values.${field.id}`,
            `“${other}” has this ${field.label} already.`,
            'Give each its own, or take “unique” off the field.',
          ),
          recordId: record.id,
        });
    }
    await insertMany(
      'unique_values (field_id, value_key, record_id)',
      [...own].map(([key, id]) => [field.id, key, id]),
      transaction,
    );
  }
  return problems;
}

/** How many counters share the count of a type, so that writers at the same time do not wait for one row. */
const SHARDS = 8;

/** Counts records in or out, by status. */
export async function countRecords(
  typeId: string,
  status: string,
  by: number,
  transaction: Transaction,
): Promise<void> {
  if (by !== 0)
    await run(
      'INSERT INTO record_counts (type_id, status, shard, n) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE n = n + VALUES(n)',
      [typeId, status, Math.floor(Math.random() * SHARDS), by],
      transaction,
    );
}

/** Pictures, files and records that values point at and that are not there, each with the place of its value among these. */
export async function missingTargets(
  values: readonly (readonly [Field, unknown])[],
  transaction?: Transaction,
): Promise<(Problem & { of: number })[]> {
  const wanted = values.map(([field, value]) => ({
    field,
    refs: leadsOf(field) === 'record' ? { records: [], media: [] } : refsOf(field, value),
  }));
  const known = async (table: string, ids: number[]) =>
    new Set(
      ids.length
        ? (
            await select<{ id: number }>(`SELECT id FROM ${table} WHERE id IN (?)`, [[...new Set(ids)]], transaction)
          ).map((row) => row.id)
        : [],
    );
  const haveMedia = await known(
    'media',
    wanted.flatMap((w) => w.refs.media),
  );
  const haveRecords = await known(
    'records',
    wanted.flatMap((w) => w.refs.records),
  );
  return wanted.flatMap(({ field, refs }, of) => {
    const at = `values.${field.id}`;
    const what = roleOfField(field) === 'link' ? 'file' : 'picture';
    return [
      ...refs.media
        .filter((id) => !haveMedia.has(id))
        .map((id) => ({
          ...problem(at, `There is no ${what} ${id} in the library.`, 'Choose one from the library.'),
          of,
        })),
      ...refs.records
        .filter((id) => !haveRecords.has(id))
        .map((id) => ({ ...problem(at, `There is no record ${id}.`, 'Choose one that exists.'), of })),
    ];
  });
}

/** Writes the values of a record anew, as its next version. */
export const writeValues = ({ id, values }: Pick<Kept, 'id' | 'values'>, transaction: Transaction): Promise<void> =>
  run('UPDATE records SET `values` = ?, version = version + 1 WHERE id = ?', [JSON.stringify(values), id], transaction);

/** Fills the index of every record of a type, or of some of its fields, a batch at a time. */
export async function reindex(type: ContentType, transaction?: Transaction, only?: ReadonlySet<string>): Promise<void> {
  for (let after = 0; ;) {
    const rows = await select<{ id: number }>(
      'SELECT id FROM records WHERE type_id = ? AND id > ? ORDER BY id LIMIT 500',
      [type.id, after],
      transaction,
    );
    if (!rows.length) return;
    after = rows.at(-1)!.id;
    const records = await keptRecords(
      rows.map((row) => row.id),
      transaction,
    );
    await writeIndex(type, records, transaction, only);
    await writeMentions(type, records, transaction);
  }
}

/** Counts all records anew. */
export async function recount(transaction?: Transaction): Promise<void> {
  await run('DELETE FROM record_counts', [], transaction);
  await run(
    'INSERT INTO record_counts (type_id, status, shard, n) SELECT type_id, status, 0, COUNT(*) FROM records GROUP BY type_id, status',
    [],
    transaction,
  );
}

export async function writeTerms(wanted: [number, string[]][], transaction: Transaction): Promise<void> {
  if (!wanted.length) return;
  await run('DELETE FROM record_terms WHERE record_id IN (?)', [wanted.map(([id]) => id)], transaction);
  const rows = wanted.flatMap(([id, terms]) => [...new Set(terms)].map((term, i) => [id, term, i]));
  for (let i = 0; i < rows.length; i += 2000)
    await run(
      'INSERT INTO record_terms (record_id, term_id, position) VALUES ?',
      [rows.slice(i, i + 2000)],
      transaction,
    );
}
