import type { Transaction } from 'sequelize';
import { clearOwnTerms, insertParts, keysTaken, replaceParts, termsOfRecords } from '../queries/record-parts';
import { idsThere, lockRows, readRows, recordIdsAfter, type RecordRow } from '../queries/records';
import { leadsOf, roleOfField } from '../../core/model/field';
import { createHash } from 'node:crypto';
import { refsOf } from '../../core/model/kinds/rows';
import type { Field } from '../../core/model/model';
import type { ContentType } from '../../core/schema/model';
import { storedType } from './model';
import { cellsOfField, wordsAt, wordsOfField } from '../../core/columns/cells';
import { problem, type Problem } from '../../core/base/result';
import { fold } from '../../core/base/text';

function indexRows(type: ContentType, record: RecordRow, only?: ReadonlySet<string>): unknown[][] {
  return type.fields
    .filter(({ id }) => !only || only.has(id))
    .flatMap((field) =>
      cellsOfField(field, record.values[field.id]).map(({ part, empty, number, text, sort }) => [
        record.id,
        field.id,
        part,
        type.id,
        empty,
        number,
        text,
        sort,
      ]),
    );
}

/**
 * Writes anew what lists look up of these records, for the draft of their type and for what visitors see of it; of some
 * fields only, where they are named. What is as it was is not touched; of `fresh` records nothing is there yet.
 */
export async function writeIndex(
  { id }: Pick<ContentType, 'id'>,
  records: RecordRow[],
  transaction?: Transaction,
  { only, fresh }: { only?: ReadonlySet<string>; fresh?: boolean } = {},
): Promise<void> {
  const type = await storedType(id, transaction);
  if (!records.length || !type) return;
  const ids = records.map((record) => record.id);
  const how = { only: only && [...only], fresh, transaction };
  await replaceParts(
    'record_index',
    ids,
    records.flatMap((record) => indexRows(type, record, only)),
    how,
  );
  await replaceParts(
    'record_words',
    ids,
    records.flatMap((record) => wordRows(type, record, only)),
    how,
  );
}

/** The words of a record's title and running text, for searches. */
function wordRows(type: ContentType, record: RecordRow, only?: ReadonlySet<string>): unknown[][] {
  const found: [string, string][] = [
    ['@title', wordsAt(record.title)],
    ...type.fields.map((field): [string, string] => [field.id, wordsOfField(field, record.values[field.id])]),
  ];
  return found.flatMap(([fieldId, words]) =>
    words && (!only || only.has(fieldId)) ? [[record.id, fieldId, type.id, words]] : [],
  );
}

/** Writes anew which records and files the values of these records point at. */
export async function writeMentions(
  { id }: Pick<ContentType, 'id'>,
  records: RecordRow[],
  transaction?: Transaction,
  fresh = false,
): Promise<void> {
  const type = await storedType(id, transaction);
  if (!records.length || !type) return;
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
  await replaceParts(
    'mentions',
    records.map((record) => record.id),
    rows,
    { fresh, transaction },
  );
}

/** What two equal values have in common: text without case, everything else as it is. */
const uniqueKey = (value: unknown): string =>
  createHash('sha256')
    .update(typeof value === 'string' ? `t${fold(value.trim())}` : JSON.stringify(value))
    .digest('hex');

/** Writes anew the values that no two records may share, and tells which are taken. */
export async function writeUnique(
  type: ContentType,
  records: RecordRow[],
  transaction: Transaction,
  fresh = false,
): Promise<(Problem & { recordId: number })[]> {
  const fields = type.fields.filter((field) => field.unique && leadsOf(field) !== 'record');
  if (!records.length || !fields.length) return [];
  const ids = records.map((record) => record.id);
  const rows: unknown[][] = [];
  const problems: (Problem & { recordId: number })[] = [];
  for (const field of fields) {
    const own = new Map<string, number>();
    const keys = records.flatMap((record) => {
      const value = record.values[field.id];
      return value === undefined ? [] : [{ record, key: uniqueKey(value) }];
    });
    if (!keys.length) continue;
    const taken = await keysTaken(
      field.id,
      keys.map(({ key }) => key),
      ids,
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
    rows.push(...[...own].map(([key, id]) => [field.id, key, id]));
  }
  await replaceParts('unique_values', ids, rows, { only: fields.map(({ id }) => id), fresh, transaction });
  return problems;
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
  const haveMedia = await idsThere(
    'media',
    wanted.flatMap((w) => w.refs.media),
    transaction,
  );
  const haveRecords = await idsThere(
    'records',
    wanted.flatMap((w) => w.refs.records),
    transaction,
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

/** Fills the index of every record of a type, or of some of its fields, a batch at a time. */
export async function reindex(
  type: Pick<ContentType, 'id'>,
  transaction?: Transaction,
  only?: ReadonlySet<string>,
): Promise<void> {
  for (let after = 0; ;) {
    const ids = await recordIdsAfter(type.id, after, 500, transaction);
    const last = ids.at(-1);
    if (last === undefined) return;
    after = last;
    const records = await (transaction ? lockRows(ids, transaction) : readRows(ids));
    await writeIndex(type, records, transaction, { only });
    await writeMentions(type, records, transaction);
  }
}

/** Files each record under these terms alone, but for those of taxonomies that only visitors see. Nothing is looked for where records are `fresh`. */
export async function writeTerms(wanted: [number, string[]][], transaction: Transaction, fresh = false): Promise<void> {
  if (!wanted.length) return;
  const before = new Map<number, string[]>();
  if (!fresh)
    for (const { id, term } of await termsOfRecords(
      wanted.map(([id]) => id),
      transaction,
    ))
      before.set(id, [...(before.get(id) ?? []), term]);
  const changed = wanted
    .map(([id, terms]): [number, string[]] => [id, [...new Set(terms)]])
    .filter(([id, terms]) => String(terms) !== String(before.get(id) ?? []));
  if (!changed.length) return;
  if (before.size)
    await clearOwnTerms(
      changed.map(([id]) => id),
      transaction,
    );
  await insertParts(
    'record_terms',
    changed.flatMap(([id, terms]) => terms.map((term, i) => [id, term, i])),
    transaction,
  );
}
