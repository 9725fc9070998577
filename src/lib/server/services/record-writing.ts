import type { Transaction } from 'sequelize';
import { problem, type Problem } from '../../core/base/result';
import { leadsOf } from '../../core/model/field';
import type { ModelIndex } from '../../core/model/model-index';
import type { Field } from '../../core/schema/field';
import type { ContentType } from '../../core/schema/model';
import type { Status } from '../../core/schema/record';
import { countRecords } from '../queries/counts';
import { insertRows, updateRow, updateRows, type RecordRow } from '../queries/records';
import { noteFormerSlug } from '../queries/redirects';
import { writeLinks } from './links';
import { missingTargets, writeTerms } from './record-parts';
import {
  NO_MOMENT,
  reservedSlug,
  settle,
  settledStatus,
  wrongTerms,
  type Checked,
  type RecordProblem,
} from './record-checks';

/** One record as it is to be written: what was sent of it, checked on its own, over the row that stands. */
export interface RecordWrite extends Checked {
  /** Its place among those that were sent, for problems. */
  index: number;
  /** The row that stands, held to the end of the transaction; none where the record is new. */
  before?: RecordRow;
  /** A slug that is free. New records have one; of others it is written where there is one. */
  slug?: string;
  /** When a new record was created, where it says so. */
  created?: Date;
}

/** What records are written into. */
export interface RecordsAt {
  model: ModelIndex;
  type: ContentType;
  transaction: Transaction;
}

type RowWithoutId = Omit<RecordRow, 'id'>;

/** Rows as they are to be, each with the write that it comes from. */
interface Rows {
  fresh: { write: RecordWrite; row: RowWithoutId }[];
  existing: { write: RecordWrite; before: RecordRow; row: RecordRow }[];
}

/**
 * Writes records of one type, new ones and those that stand, each statement for all of them: rows, links, terms, what
 * follows from their values, and counts. Where anything stands against one of them it is told; what was written until then
 * is for the caller to take back. Gives the ids of new records in their order. `generated` marks those as samples.
 */
export async function writeRecords(
  at: RecordsAt,
  writes: readonly RecordWrite[],
  { generated = false }: { generated?: boolean | undefined } = {},
): Promise<{ ids: number[]; problems: RecordProblem[] }> {
  const now = new Date();
  const problems = await checkWrites(at, writes);
  if (problems.length || !writes.length) return { ids: [], problems };
  const rows: Rows = { fresh: [], existing: [] };
  for (const write of writes) {
    const { before } = write;
    const row = rowAfter(at.type, write, now);
    if (before) rows.existing.push({ write, before, row: { ...row, id: before.id } });
    else rows.fresh.push({ write, row });
  }
  const ids = await writeRows(at, rows, generated);
  const fresh = rows.fresh.map(({ write, row }, i) => ({ write, row: { ...row, id: ids[i] as number } }));
  const against = [...(await writeDerived(at, fresh, true)), ...(await writeDerived(at, rows.existing, false))];
  await countMoves(at, [...fresh, ...rows.existing]);
  const indexOf = new Map([...fresh, ...rows.existing].map(({ write, row }) => [row.id, write.index]));
  return { ids, problems: against.map(({ recordId, ...one }) => ({ ...one, index: indexOf.get(recordId) ?? 0 })) };
}

/** What stands against these records before any is written. */
export const checkWrites = async (at: RecordsAt, writes: readonly RecordWrite[]): Promise<RecordProblem[]> => [
  ...writes.flatMap((write) => problemsOf(at, write).map((one) => ({ ...one, index: write.index }))),
  ...(await targetProblems(writes, at.transaction)),
];

/** What stands against a write by itself. */
function problemsOf({ model, type }: RecordsAt, { change, before, slug }: RecordWrite): Problem[] {
  const moment = momentOf(change, before);
  const status = change.status ?? (before ? undefined : 'draft');
  const isDateless = status !== undefined && settledStatus(status, moment) === 'scheduled' && !moment;
  return [
    ...wrongTerms(model, type, change.terms ?? []),
    ...(change.authorId && !model.author(change.authorId)
      ? [problem('authorId', 'There is no such author.', 'Choose another one.')]
      : []),
    ...(isDateless ? [NO_MOMENT] : []),
    ...(slug !== undefined && slug !== before?.slug ? reservedSlug(type, slug, model) : []),
  ];
}

/** Values that point at what is not there. */
async function targetProblems(writes: readonly RecordWrite[], transaction: Transaction): Promise<RecordProblem[]> {
  const values = writes.flatMap(({ index, values }) => [...values].map((pair) => ({ index, pair })));
  const missing = await missingTargets(
    values.map(({ pair }) => pair),
    transaction,
  );
  return missing.map(({ of, ...one }) => ({ ...one, index: values[of]?.index ?? 0 }));
}

const momentOf = (change: RecordWrite['change'], before: RecordRow | undefined): Date | undefined =>
  change.published ? new Date(change.published) : (before?.published ?? undefined);

/** When a record is published: as it says; else at once where it is published and had no moment, or one to come. */
function publishedAt({ change, before }: RecordWrite, status: Status, created: Date, now: Date): Date | null {
  if (change.published) return new Date(change.published);
  if (!before) return status === 'published' ? created : null;
  return change.status && status === 'published' && (!before.published || before.published > now)
    ? now
    : before.published;
}

/** The row that a write makes of what stands. */
function rowAfter(type: ContentType, write: RecordWrite, now: Date): RowWithoutId {
  const { change, before, values, slug } = write;
  const created = write.created ?? before?.created ?? now;
  const status =
    before && !change.status
      ? (before.status as Status)
      : settledStatus(change.status ?? 'draft', momentOf(change, before));
  return {
    typeId: type.id,
    title: change.title ?? before?.title ?? '',
    slug: slug ?? before?.slug ?? '',
    status,
    created,
    changed: now,
    published: publishedAt(write, status, created, now),
    version: (before?.version ?? 0) + 1,
    authorId: change.authorId === undefined ? (before?.authorId ?? null) : change.authorId,
    values: valuesAfter(type, before, values),
  };
}

/** The values in the row of a record: those that stand, or what fields begin with, with those that were sent. Links stand elsewhere. */
function valuesAfter(
  type: ContentType,
  before: RecordRow | undefined,
  sent: ReadonlyMap<Field, unknown>,
): Record<string, unknown> {
  const after: Record<string, unknown> = { ...before?.values };
  const put = (field: Field, value: unknown): void => {
    if (leadsOf(field) === 'record') return;
    if (value === undefined) delete after[field.id];
    else after[field.id] = value;
  };
  if (!before) for (const field of type.fields) put(field, field.initial ?? undefined);
  for (const [field, value] of sent) put(field, value);
  return after;
}

/** Writes the rows themselves. Gives the ids of new ones. */
async function writeRows({ type, transaction }: RecordsAt, rows: Rows, generated: boolean): Promise<number[]> {
  await updateRows(
    rows.existing.map(({ row }) => row),
    transaction,
  );
  for (const { write, before, row } of rows.existing) {
    if (write.change.generated === false) await updateRow(row.id, new Map([['is_generated', false]]), transaction);
    if (row.slug === before.slug) continue;
    await updateRow(row.id, new Map([['slug', row.slug]]), transaction);
    await noteFormerSlug('record', type.id, before.slug, row.id, transaction);
  }
  if (!rows.fresh.length) return [];
  return insertRows(
    rows.fresh.map(({ row }) => row),
    generated,
    transaction,
  );
}

/** Writes what stands beside rows: links, terms, and what follows from their values. Tells what stands against any of it. */
async function writeDerived(
  { model, type, transaction }: RecordsAt,
  rows: readonly { write: RecordWrite; row: RecordRow }[],
  isFresh: boolean,
): Promise<(Problem & { recordId: number })[]> {
  if (!rows.length) return [];
  const problems: (Problem & { recordId: number })[] = [];
  for (const field of type.fields) {
    if (leadsOf(field) !== 'record') continue;
    const sent = rows.flatMap(({ write: { values }, row }): [number, number[]][] =>
      values.has(field) ? [[row.id, (values.get(field) as number[] | undefined) ?? []]] : [],
    );
    // A new record has no links that could be taken away.
    const links = new Map(isFresh ? sent.filter(([, ids]) => ids.length) : sent);
    if (isFresh || links.size) problems.push(...(await writeLinks(model, field, links, transaction)));
  }
  await writeTerms(
    rows.flatMap(({ write: { change }, row }): [number, string[]][] =>
      isFresh || change.terms ? [[row.id, change.terms ?? []]] : [],
    ),
    transaction,
    isFresh,
  );
  const all = rows.map(({ row }) => row);
  return [...problems, ...(await settle(type, all, transaction, isFresh))];
}

/** Counts records by their status anew, where one has come or has another one now. */
async function countMoves(
  { type, transaction }: RecordsAt,
  rows: readonly { write: RecordWrite; row: RecordRow }[],
): Promise<void> {
  const moves = new Map<string, number>();
  const move = (status: string, by: number) => moves.set(status, (moves.get(status) ?? 0) + by);
  for (const { write, row } of rows) {
    if (write.before) move(write.before.status, -1);
    move(row.status, 1);
  }
  // In one order, so that two transactions do not wait for each other's rows.
  for (const [status, by] of [...moves].sort(([a], [b]) => (a < b ? -1 : 1)))
    if (by) await countRecords(type.id, status as Status, by, transaction);
}
