import { leadsOf } from '../../core/model/field';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { STATUSES, type ContentRecord, type Status } from '../../core/schema/record';
import { missingValues, parseValues, RecordChangeSchema, type RecordChange } from '../../core/content/validate';
import type { ContentType } from '../../core/schema/model';
import type { Field } from '../../core/model/model';
import type { ModelIndex } from '../../core/model/model-index';
import { withoutRefs } from '../../core/model/kinds/rows';
import { problem, problemsOf, type Problem } from '../../core/base/result';
import { compiledPattern, takenFirstParts } from '../../core/addresses/patterns';
import { slugOf } from '../../core/base/text';
import { fromJson, inTransaction, run, select } from '../database/connect';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../refusal';
import { noteFormerSlug } from './former';
import { cleanValue } from './html';
import { linked, writeLinks } from './links';
import { readModel } from './model';
import {
  countRecords,
  keptRecords,
  missingTargets,
  reindex,
  writeIndex,
  writeMentions,
  writeUnique,
  type Kept,
} from './record-parts';
import { beginRemoval, restore, sweep } from './removal';
import { SlugBook } from './slugs';

/** A change that has been checked on its own; what it points at has not. */
interface Checked {
  change: RecordChange;
  values: Map<Field, unknown>;
}

/** A problem with one of several records, by its place among those given. */
export type RecordProblem = Problem & { index: number };

function check(type: ContentType, input: unknown): Checked {
  const parsed = RecordChangeSchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The record cannot be saved.', problemsOf(parsed.error));
  const given = parsed.data.values ?? {};
  const cleaned = Object.fromEntries(
    Object.entries(given).map(([id, value]) => {
      const field = type.fields.find((f) => f.id === id);
      return [id, field ? cleanValue(field, value) : value];
    }),
  );
  const values = parseValues(type, cleaned);
  if (!values.ok) throw new Refusal(422, 'The record cannot be saved.', values.problems);
  return { change: parsed.data, values: values.value };
}

interface Given {
  created?: string;
  generated?: boolean;
}

/** Creates a record of a type. The slug comes from the title where none is given. */
export async function createRecord(typeId: string, input: unknown, given: Given = {}): Promise<ContentRecord> {
  const { type, model } = await typeNamed(typeId);
  const [id] = await inTransaction(async (transaction) => {
    const made = await insertRecords(model, type, [input], transaction, new SlugBook(type.id), given);
    if (made.problems.length) throw refusalOf(made.problems);
    return made.ids;
  });
  return (await readRecord(id as number)) as ContentRecord;
}

const refusalOf = (problems: RecordProblem[]): Refusal => {
  const address = problems.every((p) => p.at === 'slug');
  return new Refusal(
    address ? 409 : 422,
    address ? 'The address is taken.' : 'The record cannot be saved.',
    problems.map(({ index: _, ...rest }) => rest),
  );
};

async function typeNamed(typeId: string): Promise<{ type: ContentType; model: ModelIndex }> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  return { type, model };
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
  const rows: unknown[][] = [];
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
    rows.push([
      type.id,
      title,
      slug,
      status,
      created,
      now,
      published,
      JSON.stringify(kept),
      1,
      authorId,
      given.generated ?? false,
    ]);
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

  const made = await select<{ id: number }>(
    'INSERT INTO records (type_id, title, slug, status, created, changed, published, `values`, version, author_id, is_generated) VALUES ? RETURNING id',
    [rows],
    transaction,
  );
  const ids = made.map((row) => row.id);
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
  );
  const records = await keptRecords(ids, transaction);
  problems.push(...(await settle(type, records, transaction)).map(place));
  for (const status of STATUSES)
    await countRecords(type.id, status, records.filter((record) => record.status === status).length, transaction);
  return { ids, problems };
}

/** A record whose moment has come is published already. */
const settledStatus = (status: Status, moment: Date | undefined): Status =>
  status === 'scheduled' && moment && moment.getTime() <= Date.now() ? 'published' : status;

const NO_MOMENT = problem('published', 'A scheduled record needs the moment at which it is published.', 'Choose one.');

/** What is wrong with a slug that comes first in its address: something else may be there. */
export function reservedSlug(type: ContentType, slug: string, model: ModelIndex): Problem[] {
  return compiledPattern(type)?.slugFirst && takenFirstParts(model).has(slug)
    ? [problem('slug', `The address /${slug} belongs to something else.`, 'Choose another one.')]
    : [];
}

const slugTaken = (slug: string) => problem('slug', `Another record has the address “${slug}”.`, 'Choose another one.');

/** Writes what follows from the values of these records, and tells what stands against it. */
async function settle(
  type: ContentType,
  records: Kept[],
  transaction: Transaction,
): Promise<(Problem & { recordId: number })[]> {
  const problems = [
    ...(await writeUnique(type, records, transaction)),
    ...(await lacking(
      type,
      records.filter((record) => record.status !== 'draft'),
      transaction,
    )),
  ];
  await writeIndex(type, records, transaction);
  await writeMentions(type, records, transaction);
  return problems;
}

/** What these records lack to be published. */
async function lacking(
  type: ContentType,
  records: Kept[],
  transaction: Transaction,
): Promise<(Problem & { recordId: number })[]> {
  const problems: (Problem & { recordId: number })[] = [];
  if (records.length && type.fields.some((field) => field.required)) {
    const required = type.fields.filter((field) => field.required && leadsOf(field) === 'record');
    const links = await Promise.all(
      required.map((field) =>
        linked(
          field,
          records.map((r) => r.id),
          transaction,
        ),
      ),
    );
    for (const record of records) {
      const present = { ...record.values };
      for (const [i, field] of required.entries()) if (links[i]?.has(record.id)) present[field.id] = true;
      problems.push(...missingValues(type, present).map((p) => ({ ...p, recordId: record.id })));
    }
  }
  return problems;
}

const Version = z.object({ version: z.number() });

/** Changes a record. What the change leaves out stays; with a stale `version` nothing is written, and what stands is told. */
export async function changeRecord(id: number, input: unknown): Promise<ContentRecord> {
  const stale = await inTransaction((transaction) => changeIn(id, input, transaction));
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
  const model = await readModel(transaction);
  const [row] = await select<{
    typeId: string;
    slug: string;
    status: string;
    published: Date | null;
    version: number;
    values: unknown;
  }>(
    'SELECT type_id AS typeId, slug, status, published, version, `values` FROM records WHERE id = ? FOR UPDATE',
    [id],
    transaction,
  );
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
  const set: Record<string, unknown> = { changed: new Date(), version: row.version + 1 };
  if (change.title) set.title = change.title;
  if (change.slug) {
    set.slug = await new SlugBook(type.id, id).exactly(change.slug, transaction);
    if (!set.slug) throw new Refusal(409, 'The address is taken.', [slugTaken(change.slug)]);
    problems.push(...(change.slug === row.slug ? [] : reservedSlug(type, change.slug, model)));
    if (change.slug !== row.slug) await noteFormerSlug('record', type.id, row.slug, id, transaction);
  }
  const moment = change.published ? new Date(change.published) : (row.published ?? undefined);
  const status = change.status && settledStatus(change.status, moment);
  if (status === 'scheduled' && !moment) problems.push(NO_MOMENT);
  if (problems.length) throw new Refusal(422, 'The record cannot be saved.', problems);
  if (status) set.status = status;
  if (change.authorId !== undefined) set.author_id = change.authorId;
  if (change.generated === false) set.is_generated = false;
  if (change.published) set.published = new Date(change.published);
  else if (status === 'published' && (!row.published || row.published > new Date())) set.published = new Date();
  const kept = { ...fromJson<Record<string, unknown>>(row.values) };
  const links: (Problem & { recordId: number })[] = [];
  for (const [field, value] of values)
    if (leadsOf(field) === 'record')
      links.push(...(await writeLinks(model, field, new Map([[id, (value ?? []) as number[]]]), transaction)));
    else if (value === undefined) delete kept[field.id];
    else kept[field.id] = value;
  set['`values`'] = JSON.stringify(kept);
  const columns = Object.keys(set);
  await run(
    `UPDATE records SET ${columns.map((c) => `${c} = ?`).join(', ')} WHERE id = ?`,
    [...Object.values(set), id],
    transaction,
  );
  if (change.terms) await writeTerms([[id, change.terms]], transaction);
  const wrong = [...links, ...(await settle(type, await keptRecords([id], transaction), transaction))];
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

export async function readRecord(id: number): Promise<ContentRecord | undefined> {
  const model = await readModel();
  return (await loadRecords(model, [id], { drafts: true }))[0];
}

/** Deletes records with their links, takes them out of the values that pointed at them, and tells how to undo it. */
export async function deleteRecords(ids: number[], what?: string): Promise<{ removal: string; deleted: number }> {
  return inTransaction((transaction) => removeRecords(ids, what, transaction));
}

export async function removeRecords(
  ids: number[],
  what: string | undefined,
  transaction: Transaction,
  into?: string,
): Promise<{ removal: string; deleted: number }> {
  const rows = ids.length
    ? await select<{ id: number; typeId: string; status: string; title: string }>(
        'SELECT id, type_id AS typeId, status, title FROM records WHERE id IN (?) FOR UPDATE',
        [ids],
        transaction,
      )
    : [];
  const first = rows[0];
  if (!first && !into) throw notFound('record with this number');
  const removal =
    into ??
    (await beginRemoval(what ?? (rows.length === 1 ? `“${first?.title}”` : `${rows.length} records`), transaction));
  for (let i = 0; i < rows.length; i += 500) {
    const batch = rows.slice(i, i + 500).map((row) => row.id);
    await forget('record', batch, removal, transaction);
    await sweep(
      removal,
      [
        { table: 'links', where: 'a_id IN (?) OR b_id IN (?)', values: [batch, batch] },
        { table: 'record_terms', where: 'record_id IN (?)', values: [batch] },
        { table: 'records', where: 'id IN (?)', values: [batch] },
      ],
      transaction,
    );
  }
  const counts = new Map<string, number>();
  for (const row of rows)
    counts.set(`${row.typeId} ${row.status}`, (counts.get(`${row.typeId} ${row.status}`) ?? 0) + 1);
  for (const [key, n] of counts) {
    const [typeId = '', status = ''] = key.split(' ');
    await countRecords(typeId, status, -n, transaction);
  }
  return { removal, deleted: rows.length };
}

/** Takes what is about to go out of the values of every record that points at it. Their former state is kept for undo. */
export async function forget(
  target: 'record' | 'media',
  ids: number[],
  removal: string,
  transaction: Transaction,
): Promise<void> {
  const model = await readModel(transaction);
  const rows = await select<{ id: number }>(
    'SELECT DISTINCT record_id AS id FROM mentions WHERE target = ? AND target_id IN (?)',
    [target, ids],
    transaction,
  );
  const holders = rows.map((row) => row.id).filter((id) => target === 'media' || !ids.includes(id));
  if (!holders.length) return;
  await sweep(removal, [{ table: 'records', where: 'id IN (?)', values: [holders], stay: true }], transaction);
  const gone = { records: target === 'record' ? ids : [], media: target === 'media' ? ids : [] };
  const typeOf = await typesOf(holders, model, transaction);
  for (const [type, own] of typeOf) {
    const records = await keptRecords(own, transaction);
    for (const record of records) {
      for (const field of type.fields) {
        const value = record.values[field.id];
        if (value === undefined) continue;
        const left = withoutRefs(field, value, gone);
        if (left === undefined) delete record.values[field.id];
        else record.values[field.id] = left;
      }
      await run(
        'UPDATE records SET `values` = ?, version = version + 1 WHERE id = ?',
        [JSON.stringify(record.values), record.id],
        transaction,
      );
    }
    await writeIndex(type, records, transaction);
    await writeMentions(type, records, transaction);
  }
}

async function typesOf(
  ids: number[],
  model: ModelIndex,
  transaction: Transaction,
): Promise<Map<ContentType, number[]>> {
  const rows = ids.length
    ? await select<{ id: number; typeId: string }>(
        'SELECT id, type_id AS typeId FROM records WHERE id IN (?)',
        [ids],
        transaction,
      )
    : [];
  const out = new Map<ContentType, number[]>();
  for (const row of rows) {
    const type = model.type(row.typeId);
    if (type) out.set(type, [...(out.get(type) ?? []), row.id]);
  }
  return out;
}

/** Undoes a removal: of records, files, terms, fields or whole types. */
export async function undoRemoval(removalId: string): Promise<{ what: string }> {
  const what = await restore(removalId, async ({ ids }, transaction) => {
    await run('UPDATE sites SET model_version = model_version + 1 WHERE id = 1', [], transaction);
    const model = await readModel(transaction);
    const own = (ids.records ?? []) as number[];
    for (let i = 0; i < own.length; i += 500)
      for (const [type, some] of await typesOf(own.slice(i, i + 500), model, transaction)) {
        const records = await keptRecords(some, transaction);
        const problems = await writeUnique(type, records, transaction);
        if (problems.length)
          throw new Refusal(
            409,
            'This cannot be undone any more.',
            problems.map(({ recordId: _, ...p }) => p),
          );
        await writeIndex(type, records, transaction);
        await writeMentions(type, records, transaction);
      }
    const fieldIds = new Set((ids.fields ?? []) as string[]);
    for (const type of model.types) {
      const back = type.fields.filter((field) => fieldIds.has(field.id));
      if (!back.length || ids.content_types?.includes(type.id)) continue;
      await orderFields(type, back, transaction);
      await reindex(type, transaction, new Set(back.map((field) => field.id)));
      const unique = back.filter((field) => field.unique);
      if (unique.length) await claimUnique({ ...type, fields: unique }, transaction);
    }
    await recount(transaction);
  });
  return { what };
}

/** Puts fields that came back where they stood, and the others around them. */
async function orderFields(type: ContentType, back: Field[], transaction: Transaction): Promise<void> {
  const places = await select<{ id: string; position: number }>(
    'SELECT id, position FROM fields WHERE type_id = ?',
    [type.id],
    transaction,
  );
  const placeOf = new Map(places.map((row) => [row.id, row.position]));
  const order = type.fields.filter((field) => !back.includes(field)).map((field) => field.id);
  for (const { id } of [...back].sort((a, b) => (placeOf.get(a.id) ?? 0) - (placeOf.get(b.id) ?? 0)))
    order.splice(placeOf.get(id) ?? order.length, 0, id);
  for (const [i, id] of order.entries()) await run('UPDATE fields SET position = ? WHERE id = ?', [i, id], transaction);
  await run('UPDATE sites SET model_version = model_version + 1 WHERE id = 1', [], transaction);
}

/** Notes the values of unique fields again; refused where two records have come to share one. */
async function claimUnique(type: ContentType, transaction: Transaction): Promise<void> {
  const rows = await select<{ id: number }>('SELECT id FROM records WHERE type_id = ?', [type.id], transaction);
  for (let i = 0; i < rows.length; i += 500) {
    const own = rows.slice(i, i + 500).map((row) => row.id);
    const problems = await writeUnique(type, await keptRecords(own, transaction), transaction);
    if (problems.length)
      throw new Refusal(
        409,
        'This cannot be undone any more.',
        problems.slice(0, 20).map(({ recordId: _, ...p }) => p),
      );
  }
}

/** Publishes the scheduled records whose moment has come; several processes may ask at once. Gives how many there were. */
export async function publishDue(): Promise<number> {
  const [due] = await select("SELECT 1 FROM records WHERE status = 'scheduled' AND published <= ? LIMIT 1", [
    new Date(),
  ]);
  if (!due) return 0;
  return inTransaction(async (transaction) => {
    const rows = await select<{ id: number }>(
      "SELECT id FROM records WHERE status = 'scheduled' AND published <= ? ORDER BY id LIMIT 500 FOR UPDATE SKIP LOCKED",
      [new Date()],
      transaction,
    );
    const ids = rows.map((row) => row.id);
    if (!ids.length) return 0;
    await run("UPDATE records SET status = 'published', version = version + 1 WHERE id IN (?)", [ids], transaction);
    for (const [type, own] of await typesOf(ids, await readModel(transaction), transaction)) {
      await writeIndex(type, await keptRecords(own, transaction), transaction);
      await countRecords(type.id, 'scheduled', -own.length, transaction);
      await countRecords(type.id, 'published', own.length, transaction);
    }
    return ids.length;
  });
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

export const RecordsChanged = z.strictObject({
  ids: z.array(z.number().int().positive()).min(1, { error: 'Nothing is chosen.' }).max(5000),
  status: z.enum(['draft', 'published']).optional(),
  addTerms: z.array(z.string()).max(50).default([]),
  takeTerms: z.array(z.string()).max(50).default([]),
  authorId: z.number().int().positive().nullable().optional(),
});

/**
 * Changes many records alike: status, terms, author. Those that cannot be published are left as they are and told. Their
 * former state is kept, so that the change can be undone.
 */
export async function changeRecords(
  input: unknown,
): Promise<{ removal: string; changed: number; left: { id: number; title: string; problems: Problem[] }[] }> {
  const parsed = RecordsChanged.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'These records cannot be changed so.', problemsOf(parsed.error));
  const { ids, status, addTerms, takeTerms, authorId } = parsed.data;
  const model = await readModel();
  return inTransaction(async (transaction) => {
    const locked = await select<{ id: number }>(
      'SELECT id FROM records WHERE id IN (?) ORDER BY id FOR UPDATE',
      [ids],
      transaction,
    );
    const removal = await beginRemoval(`change of ${locked.length} records`, transaction);
    const left: { id: number; title: string; problems: Problem[] }[] = [];
    let changed = 0;
    for (const [type, own] of await typesOf(
      locked.map((row) => row.id),
      model,
      transaction,
    )) {
      const wrong = wrongTerms(model, type, addTerms);
      if (wrong.length) throw new Refusal(422, 'These records cannot be filed so.', wrong);
      const records = await keptRecords(own, transaction);
      let able = records;
      if (status === 'published') {
        const problems = await lacking(type, records, transaction);
        const bad = new Set(problems.map((p) => p.recordId));
        for (const record of records)
          if (bad.has(record.id))
            left.push({
              id: record.id,
              title: record.title,
              problems: problems.filter((p) => p.recordId === record.id).map(({ recordId: _, ...p }) => p),
            });
        able = records.filter((record) => !bad.has(record.id));
      }
      const ableIds = able.map((record) => record.id);
      if (!ableIds.length) continue;
      changed += ableIds.length;
      await sweep(
        removal,
        [
          { table: 'record_terms', where: 'record_id IN (?)', values: [ableIds], stay: true },
          { table: 'records', where: 'id IN (?)', values: [ableIds], stay: true },
        ],
        transaction,
      );
      const now = new Date();
      await run('UPDATE records SET changed = ?, version = version + 1 WHERE id IN (?)', [now, ableIds], transaction);
      if (status) {
        await run(
          "UPDATE records SET status = ?, published = IF(? = 'published' AND (published IS NULL OR published > ?), ?, published) WHERE id IN (?)",
          [status, status, now, now, ableIds],
          transaction,
        );
        for (const record of able)
          if (record.status !== status) {
            await countRecords(type.id, record.status, -1, transaction);
            await countRecords(type.id, status, 1, transaction);
          }
      }
      if (authorId !== undefined)
        await run('UPDATE records SET author_id = ? WHERE id IN (?)', [authorId, ableIds], transaction);
      if (takeTerms.length)
        await run(
          'DELETE FROM record_terms WHERE record_id IN (?) AND term_id IN (?)',
          [ableIds, takeTerms],
          transaction,
        );
      if (addTerms.length)
        await run(
          'INSERT IGNORE INTO record_terms (record_id, term_id, position) VALUES ?',
          [ableIds.flatMap((id) => addTerms.map((term, i) => [id, term, 1000 + i]))],
          transaction,
        );
      await writeIndex(type, await keptRecords(own, transaction), transaction);
    }
    return { removal, changed, left };
  });
}

function wrongTerms(model: ModelIndex, type: ContentType, terms: string[]): Problem[] {
  return terms
    .filter((term) => !type.taxonomyIds.includes(model.term(term)?.taxonomyId ?? ''))
    .map((term) =>
      problem(
        'terms',
        `${type.name} cannot be filed under “${model.term(term)?.name ?? term}”.`,
        'Choose a term of its taxonomies.',
      ),
    );
}

async function writeTerms(wanted: [number, string[]][], transaction: Transaction): Promise<void> {
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
