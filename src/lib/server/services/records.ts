import { noteActivity } from '../people/activity';
import { titlesOf } from '../queries/records';
import {
  insertRows,
  isAnyDue,
  lockDue,
  lockRow,
  lockRows,
  publishRows,
  readRows,
  updateRow,
  updateRows,
  type RecordRow,
} from '../queries/records';
import type { Field } from '../../core/schema/field';
import { countRecords } from '../queries/counts';
import { noteCreator } from '../queries/own';
import { holdModel } from '../queries/site';
import { noteFormerSlug } from '../queries/redirects';
import { writeTerms, missingTargets, writeIndex } from './record-parts';
import { typesOf } from './record-removal';
import {
  type Checked,
  type RecordProblem,
  check,
  refusalOf,
  typeNamed,
  settledStatus,
  NO_MOMENT,
  reservedSlug,
  slugTaken,
  settle,
  wrongTerms,
} from './record-checks';
import { leadsOf } from '../../core/model/field';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { STATUSES, type ContentRecord, type Status } from '../../core/schema/record';
import type { ContentType } from '../../core/schema/model';
import type { ModelIndex } from '../../core/model/model-index';
import { problem, type Problem } from '../../core/base/result';
import { slugOf } from '../../core/base/text';
import { inTransaction } from '../database/connect';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../refusal';
import { writeLinks } from './links';
import { readModel, readModels } from './model';
import { SlugBook } from './slugs';

interface Given {
  created?: string;
  generated?: boolean;
  /** The account that makes it. */
  madeBy?: number;
}

/** Creates a record of a type. The slug comes from the title where none is given. */
export async function createRecord(typeId: string, input: unknown, given: Given = {}): Promise<ContentRecord> {
  const [id] = await inTransaction(
    async (transaction) => {
      await holdModel(transaction);
      const { type, model } = await typeNamed(typeId, transaction);
      const made = await insertRecords(model, type, [input], transaction, new SlugBook(type.id), given);
      if (made.problems.length) throw refusalOf(made.problems);
      if (given.madeBy !== undefined) await noteCreator('records', made.ids, given.madeBy, transaction);
      return made.ids;
    },
    { writes: 'records' },
  );
  return (await readRecord(id as number)) as ContentRecord;
}

/**
 * Creates records of one type, each statement for all of them. Inputs with problems are told and none is written; the
 * caller decides whether to go on with the others. Gives the ids in the order of the inputs.
 */
export async function insertRecords(
  model: ModelIndex,
  type: ContentType,
  inputs: readonly unknown[],
  transaction: Transaction,
  slugs: SlugBook,
  given: Given = {},
): Promise<{ ids: number[]; problems: RecordProblem[] }> {
  const problems: RecordProblem[] = [];
  const checked = inputs.map((input, index): Checked | undefined => {
    try {
      const one = check(type, input);
      if (one.change.title) return one;
      problems.push({ ...problem('title', 'A record has a title.'), index });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      problems.push(...error.problems.map((p) => ({ ...p, index })));
    }
    return undefined;
  });
  const now = new Date();
  const rows: Omit<RecordRow, 'id'>[] = [];
  await slugs.ask(
    checked.flatMap((one) => (one ? [one.change.slug ?? (slugOf(one.change.title as string) || 'record')] : [])),
    transaction,
  );
  for (const [index, one] of checked.entries()) {
    if (!one) continue;
    const { change, values } = one;
    const title = change.title as string;
    const slug = change.slug
      ? await slugs.exactly(change.slug, transaction)
      : await slugs.free(slugOf(title) || 'record', transaction);
    if (!slug) problems.push({ ...slugTaken(change.slug as string), index });
    if (change.authorId && !model.author(change.authorId))
      problems.push({ ...problem('authorId', 'There is no such author.', 'Choose another one.'), index });
    problems.push(...wrongTerms(model, type, change.terms ?? []).map((p) => ({ ...p, index })));
    const moment = change.published && new Date(change.published);
    const status = settledStatus(change.status ?? 'draft', moment || undefined);
    if (status === 'scheduled' && !moment) problems.push({ ...NO_MOMENT, index });
    if (slug) problems.push(...reservedSlug(type, slug, model).map((p) => ({ ...p, index })));
    const started = change.created ?? given.created;
    const created = started ? new Date(started) : now;
    const published = change.published ? new Date(change.published) : status === 'published' ? created : null;
    const kept: Record<string, unknown> = {};
    for (const field of type.fields) {
      if (leadsOf(field) === 'record') continue;
      const value = values.has(field) ? values.get(field) : (field.initial ?? undefined);
      if (value !== undefined) kept[field.id] = value;
    }
    const { authorId = null } = change;
    rows.push({
      ...{ typeId: type.id, title, slug: slug ?? '', status, created, changed: now, published },
      ...{ values: kept, version: 1, authorId },
    });
  }
  const pointing = checked.flatMap((one, index) =>
    one ? [...one.values].map(([field, value]) => ({ index, pair: [field, value] as const })) : [],
  );
  for (const { of, ...missing } of await missingTargets(
    pointing.map(({ pair }) => pair),
    transaction,
  ))
    problems.push({ ...missing, index: pointing[of]?.index ?? 0 });
  if (problems.length) return { ids: [], problems };
  if (!rows.length) return { ids: [], problems };

  const ids = await insertRows(rows, given.generated ?? false, transaction);
  const records = rows.map((row, index): RecordRow => ({ ...row, id: ids[index] as number }));
  const indexOf = new Map(ids.map((id, index) => [id, index]));
  const place = <P extends Problem & { recordId: number }>({ recordId, ...rest }: P): RecordProblem => ({
    ...rest,
    index: indexOf.get(recordId) ?? 0,
  });
  for (const field of type.fields) {
    if (leadsOf(field) !== 'record') continue;
    const wanted = new Map<number, number[]>();
    for (const [index, one] of checked.entries()) {
      const linkedTo = one?.values.get(field) as number[] | undefined;
      if (linkedTo?.length) wanted.set(ids[index] as number, linkedTo);
    }
    problems.push(...(await writeLinks(model, field, wanted, transaction)).map(place));
  }
  await writeTerms(
    ids.map((id, index) => [id, checked[index]?.change.terms ?? []]),
    transaction,
    true,
  );
  problems.push(...(await settle(type, records, transaction, true)).map(place));
  for (const status of STATUSES)
    await countRecords(type.id, status, records.filter((record) => record.status === status).length, transaction);
  return { ids, problems };
}

const Version = z.object({ version: z.number() });

/** Changes a record. What the change leaves out stays; with a stale `version` nothing is written, and what stands is told. */
export async function changeRecord(id: number, input: unknown): Promise<ContentRecord> {
  const stale = await inTransaction((transaction) => changeIn(id, input, transaction), { writes: 'records' });
  const record = (await readRecord(id)) as ContentRecord;
  if (stale !== undefined)
    throw new Refusal(409, 'Somebody else has changed this record since you opened it. Nothing was overwritten.', [], {
      version: stale,
      record,
    });
  return record;
}

/** Changes a record within a transaction; gives the version that stands instead where the writer saw another one. */
export async function changeIn(id: number, input: unknown, transaction: Transaction): Promise<number | undefined> {
  // The row first: whoever converts it has come to an end by then, and the model is what it was converted to.
  const row = await lockRow(id, transaction);
  const model = await readModel(transaction);
  const type = row && model.type(row.typeId);
  if (!type) throw notFound(`record ${id}`);
  const seen = Version.safeParse(input);
  if (seen.success && seen.data.version !== row.version) return row.version;
  const { change, values } = check(type, input);
  const problems = [
    ...wrongTerms(model, type, change.terms ?? []),
    ...(await missingTargets([...values], transaction)).map(({ of: _, ...p }) => p),
  ];
  if (change.authorId && !model.author(change.authorId))
    problems.push(problem('authorId', 'There is no such author.', 'Choose another one.'));
  if (problems.length) throw new Refusal(422, 'The record cannot be saved.', problems);
  const set = new Map<string, unknown>([
    ['changed', new Date()],
    ['version', row.version + 1],
  ]);
  if (change.title) set.set('title', change.title);
  if (change.slug) {
    const slug = await new SlugBook(type.id, id).exactly(change.slug, transaction);
    if (!slug) throw new Refusal(409, 'The address is taken.', [slugTaken(change.slug)]);
    set.set('slug', slug);
    problems.push(...(change.slug === row.slug ? [] : reservedSlug(type, change.slug, model)));
    if (change.slug !== row.slug) await noteFormerSlug('record', type.id, row.slug, id, transaction);
  }
  const moment = change.published ? new Date(change.published) : (row.published ?? undefined);
  const status = change.status && settledStatus(change.status, moment);
  if (status === 'scheduled' && !moment) problems.push(NO_MOMENT);
  if (problems.length) throw new Refusal(422, 'The record cannot be saved.', problems);
  if (status) set.set('status', status);
  if (change.authorId !== undefined) set.set('author_id', change.authorId);
  if (change.generated === false) set.set('is_generated', false);
  if (change.published) set.set('published', new Date(change.published));
  else if (status) set.set('published', publishedAt(row, change, status, new Date()));
  const kept = { ...row.values };
  const links: (Problem & { recordId: number })[] = [];
  for (const [field, value] of values)
    if (leadsOf(field) === 'record')
      links.push(...(await writeLinks(model, field, new Map([[id, (value ?? []) as number[]]]), transaction)));
    else if (value === undefined) delete kept[field.id];
    else kept[field.id] = value;
  set.set('`values`', JSON.stringify(kept));
  await updateRow(id, set, transaction);
  if (change.terms) await writeTerms([[id, change.terms]], transaction);
  const wrong = [...links, ...(await settle(type, await readRows([id], transaction), transaction))];
  if (wrong.length)
    throw new Refusal(
      422,
      'The record cannot be saved.',
      wrong.map(({ recordId: _, ...rest }) => rest),
    );
  if (status && status !== row.status) {
    await countRecords(type.id, row.status, -1, transaction);
    await countRecords(type.id, status, 1, transaction);
  }
  return undefined;
}

/**
 * Changes records of one type, each statement for all of them. Whatever stands against any of it is told, and the caller
 * takes back what was written then. Addresses are not changed so.
 */
export async function changeTogether(
  model: ModelIndex,
  type: ContentType,
  changes: readonly { id: number; input: unknown }[],
  transaction: Transaction,
): Promise<RecordProblem[]> {
  const problems: RecordProblem[] = [];
  const rows = new Map(
    (
      await lockRows(
        changes.map(({ id }) => id),
        transaction,
      )
    ).map((row) => [row.id, row]),
  );
  const now = new Date();
  const checked = changes.map(({ id, input }, index) => {
    try {
      const row = rows.get(id);
      if (row?.typeId !== type.id) throw notFound(`record ${id}`);
      return { row, index, ...check(type, input) };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      const own = error.problems.length ? error.problems : [problem('', error.title)];
      problems.push(...own.map((p) => ({ ...p, index })));
      return undefined;
    }
  });
  const able = checked.filter((one) => one !== undefined);
  const pointing = able.flatMap(({ index, values }) => [...values].map((pair) => ({ index, pair })));
  for (const { of, ...missing } of await missingTargets(
    pointing.map(({ pair }) => pair),
    transaction,
  ))
    problems.push({ ...missing, index: pointing[of]?.index ?? 0 });
  const links = new Map<Field, Map<number, number[]>>();
  const moved = new Map<Status, number>();
  const count = (status: Status, by: number) => moved.set(status, (moved.get(status) ?? 0) + by);
  const after = able.map(({ row, index, change, values }) => {
    const tell = (...own: Problem[]) => problems.push(...own.map((p) => ({ ...p, index })));
    tell(...wrongTerms(model, type, change.terms ?? []));
    if (change.slug || change.generated === false)
      tell(problem('', 'Addresses, and what is made up, are changed one by one.'));
    if (change.authorId && !model.author(change.authorId))
      tell(problem('authorId', 'There is no such author.', 'Choose another one.'));
    const moment = change.published ? new Date(change.published) : (row.published ?? undefined);
    const status = (change.status && settledStatus(change.status, moment)) ?? (row.status as Status);
    if (change.status && status === 'scheduled' && !moment) tell(NO_MOMENT);
    if (status !== row.status) {
      count(row.status as Status, -1);
      count(status, 1);
    }
    const kept = { ...row.values };
    for (const [field, value] of values)
      if (leadsOf(field) === 'record') {
        const of = links.get(field) ?? new Map<number, number[]>();
        links.set(field, of.set(row.id, (value ?? []) as number[]));
      } else if (value === undefined) delete kept[field.id];
      else kept[field.id] = value;
    return {
      ...row,
      ...{ title: change.title ?? row.title, status, changed: now, version: row.version + 1, values: kept },
      authorId: change.authorId === undefined ? row.authorId : change.authorId,
      published: publishedAt(row, change, status, now),
    };
  });
  if (problems.length) return problems;
  await updateRows(after, transaction);
  const indexOf = new Map(able.map(({ row, index }) => [row.id, index]));
  const place = <P extends Problem & { recordId: number }>({ recordId, ...rest }: P): RecordProblem => ({
    ...rest,
    index: indexOf.get(recordId) ?? 0,
  });
  for (const [field, wanted] of links)
    problems.push(...(await writeLinks(model, field, wanted, transaction)).map(place));
  await writeTerms(
    able.flatMap(({ row, change }): [number, string[]][] => (change.terms ? [[row.id, change.terms]] : [])),
    transaction,
  );
  problems.push(...(await settle(type, after, transaction)).map(place));
  for (const [status, by] of moved) await countRecords(type.id, status, by, transaction);
  return problems;
}

/** When a record with this change is published: as it says, or at once where it had no moment or one to come. */
function publishedAt(
  row: RecordRow,
  change: { published?: string | null; status?: Status },
  status: Status,
  now: Date,
): Date | null {
  if (change.published) return new Date(change.published);
  return change.status && status === 'published' && (!row.published || row.published > now) ? now : row.published;
}

export async function readRecord(id: number): Promise<ContentRecord | undefined> {
  const model = await readModel();
  return (await loadRecords(model, [id], { drafts: true }))[0];
}

/** Publishes the scheduled records whose moment has come; several processes may ask at once. Gives how many there were. */
export async function publishDue(): Promise<number> {
  if (!(await isAnyDue(new Date()))) return 0;
  const due = await inTransaction(
    async (transaction) => {
      const ids = await lockDue(new Date(), transaction);
      if (!ids.length) return [];
      await publishRows(ids, transaction);
      for (const [type, own] of await typesOf(ids, (await readModels(transaction)).kept, transaction)) {
        await writeIndex(type, await readRows(own, transaction), transaction);
        await countRecords(type.id, 'scheduled', -own.length, transaction);
        await countRecords(type.id, 'published', own.length, transaction);
      }
      return ids;
    },
    { writes: 'records' },
  );
  for (const { id, title } of await titlesOf(due))
    await noteActivity({
      ...{ via: 'schedule', operation: 'publishDue', subject: `record ${id}` },
      what: `Published “${title}”`,
    });
  return due.length;
}
