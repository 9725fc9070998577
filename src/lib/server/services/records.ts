import { noteActivity } from '../people/activity';
import { titlesOf } from '../queries/records';
import { isAnyDue, lockDue, lockRow, lockRows, publishRows, readRows } from '../queries/records';
import { countRecords } from '../queries/counts';
import { noteCreator } from '../queries/own';
import { shareLockModel } from '../queries/site';
import { writeIndex } from './record-parts';
import { typesOf } from './record-removal';
import { type Checked, type RecordProblem, check, refusalOf, typeNamed, slugTaken } from './record-checks';
import { checkWrites, writeRecords, type RecordWrite } from './record-writing';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { type ContentRecord } from '../../core/schema/record';
import type { ContentType } from '../../core/schema/model';
import type { ModelIndex } from '../../core/model/model-index';
import { problem } from '../../core/base/result';
import { slugOf } from '../../core/base/text';
import { inTransaction } from '../database/connect';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../base/refusal';
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
      await shareLockModel(transaction);
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
  await slugs.ask(
    checked.flatMap((one) => (one ? [one.change.slug ?? (slugOf(one.change.title as string) || 'record')] : [])),
    transaction,
  );
  const writes: RecordWrite[] = [];
  for (const [index, one] of checked.entries()) {
    if (!one) continue;
    const { change } = one;
    const slug = change.slug
      ? await slugs.exactly(change.slug, transaction)
      : await slugs.free(slugOf(change.title as string) || 'record', transaction);
    if (!slug) problems.push({ ...slugTaken(change.slug as string), index });
    const created = change.created ?? given.created;
    writes.push({ ...one, index, ...(slug && { slug }), ...(created && { created: new Date(created) }) });
  }
  const at = { model, type, transaction };
  if (problems.length) return { ids: [], problems: [...problems, ...(await checkWrites(at, writes))] };
  return writeRecords(at, writes, { generated: given.generated });
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
  const checked = check(type, input);
  const requestedSlug = checked.change.slug;
  const slug = requestedSlug && (await new SlugBook(type.id, id).exactly(requestedSlug, transaction));
  const taken = requestedSlug && !slug ? [{ ...slugTaken(requestedSlug), index: 0 }] : [];
  const { problems } = await writeRecords({ model, type, transaction }, [
    { ...checked, index: 0, before: row, ...(slug && { slug }) },
  ]);
  if (taken.length + problems.length) throw refusalOf([...taken, ...problems]);
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
  const writes = changes.flatMap(({ id, input }, index): RecordWrite[] => {
    try {
      const before = rows.get(id);
      if (before?.typeId !== type.id) throw notFound(`record ${id}`);
      const checked = check(type, input);
      if (checked.change.slug || checked.change.generated === false)
        throw new Refusal(422, 'Addresses, and what is made up, are changed one by one.');
      return [{ ...checked, index, before }];
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      const own = error.problems.length ? error.problems : [problem('', error.title)];
      problems.push(...own.map((p) => ({ ...p, index })));
      return [];
    }
  });
  const at = { model, type, transaction };
  if (problems.length) return [...problems, ...(await checkWrites(at, writes))];
  return (await writeRecords(at, writes)).problems;
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
      via: 'schedule',
      operation: 'publishDue',
      subject: `record ${id}`,
      what: `Published “${title}”`,
    });
  return due.length;
}
