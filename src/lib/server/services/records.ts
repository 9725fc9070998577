import type { Transaction } from 'sequelize';
import type { ContentRecord } from '../../core/content/record';
import { missingValues, parseValues, RecordChangeSchema, type RecordChange } from '../../core/content/validate';
import { kindOf, type ContentType, type Field, type ModelIndex } from '../../core/model/model';
import { problem, problemsOf, type Problem } from '../../core/result';
import { fold, slugOf } from '../../core/text';
import { inTransaction, run, select } from '../database/connect';
import { table } from '../database/tables';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../refusal';
import { otherSide, readModel } from './model';

interface RelationSettings {
  relationId: string;
  side: 'a' | 'b';
  many: boolean;
  typeIds: string[];
}

/** Creates a record of a type. The slug comes from the title where none is given. */
export async function createRecord(
  typeId: string,
  input: unknown,
  given: { created?: string } = {},
): Promise<ContentRecord> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const change = parseChange(input);
  if (!change.title) throw new Refusal(422, 'The record cannot be saved.', [problem('title', 'A record has a title.')]);
  const values = checkedValues(type, change);
  const now = new Date();
  const id = await inTransaction(async (transaction) => {
    const slug = change.slug
      ? await freeSlug(typeId, change.slug, transaction, undefined, true)
      : await freeSlug(typeId, slugOf(change.title as string) || 'record', transaction);
    const status = change.status ?? 'draft';
    const row = await table('records').create(
      {
        typeId,
        title: change.title,
        slug,
        status,
        created: given.created ? new Date(given.created) : now,
        changed: now,
        published: status === 'published' ? (given.created ? new Date(given.created) : now) : null,
        values: {},
        version: 1,
      },
      { transaction },
    );
    const id = row.get('id') as number;
    await writeParts(model, type, id, values, change.terms, transaction);
    return id;
  });
  return (await readRecord(id)) as ContentRecord;
}

/** Changes a record. What the change leaves out stays; with a stale `version` nothing is written. */
export async function changeRecord(id: number, input: unknown): Promise<ContentRecord> {
  const model = await readModel();
  const change = parseChange(input);
  await inTransaction(async (transaction) => {
    const [row] = await select<{ typeId: string; status: string; published: Date | null; version: number }>(
      'SELECT type_id AS typeId, status, published, version FROM records WHERE id = ? FOR UPDATE',
      [id],
      transaction,
    );
    const type = row && model.type(row.typeId);
    if (!type) throw notFound(`record ${id}`);
    if (change.version !== undefined && change.version !== row.version)
      throw new Refusal(
        409,
        'Somebody else has changed this record since you opened it. Nothing was overwritten.',
        [],
        { version: row.version },
      );
    const values = checkedValues(type, change);
    const set: Record<string, unknown> = { changed: new Date(), version: row.version + 1 };
    if (change.title) set.title = change.title;
    if (change.slug) set.slug = await freeSlug(type.id, change.slug, transaction, id, true);
    if (change.status) set.status = change.status;
    if (change.status === 'published' && !row.published) set.published = new Date();
    await table('records').update(set, { where: { id }, transaction });
    await writeParts(model, type, id, values, change.terms, transaction);
  });
  return (await readRecord(id)) as ContentRecord;
}

export async function deleteRecord(id: number): Promise<void> {
  if (!(await table('records').destroy({ where: { id } }))) throw notFound(`record ${id}`);
}

export async function readRecord(id: number): Promise<ContentRecord | undefined> {
  const model = await readModel();
  return (await loadRecords(model, [id], { drafts: true }))[0];
}

function parseChange(input: unknown): RecordChange {
  const parsed = RecordChangeSchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The record cannot be saved.', problemsOf(parsed.error));
  return parsed.data;
}

function checkedValues(type: ContentType, change: RecordChange): Map<Field, unknown> {
  const values = parseValues(type, change.values ?? {});
  if (!values.ok) throw new Refusal(422, 'The record cannot be saved.', values.problems);
  return values.value;
}

/** A slug nobody else of the type has: with a number after it where needed, or refused if it was `asked` for. */
async function freeSlug(
  typeId: string,
  wanted: string,
  transaction: Transaction,
  own?: number,
  asked = false,
): Promise<string> {
  const base = wanted === 'page' ? 'page-record' : wanted;
  const rows = await select<{ slug: string }>(
    'SELECT slug FROM records WHERE type_id = ? AND id <> ? AND (slug = ? OR slug LIKE ?)',
    [typeId, own ?? 0, base, `${base}-%`],
    transaction,
  );
  const taken = new Set(rows.map((row) => row.slug));
  if (!taken.has(base)) return base;
  if (asked)
    throw new Refusal(409, 'The address is taken.', [
      problem('slug', `Another record has the address “${base}”.`, 'Choose another one.'),
    ]);
  for (let n = 2; ; n++) if (!taken.has(`${base}-${n}`)) return `${base}-${n}`;
}

/** Writes values, relations, terms and the index of one record, and refuses what points nowhere. */
async function writeParts(
  model: ModelIndex,
  type: ContentType,
  id: number,
  changed: Map<Field, unknown>,
  terms: string[] | undefined,
  transaction: Transaction,
): Promise<void> {
  const problems: Problem[] = [];
  const row = await table('records').findByPk(id, { transaction });
  const values = { ...(row?.get('values') as Record<string, unknown>) };
  for (const [field, value] of changed) {
    if (field.kind === 'relation')
      problems.push(...(await writeLinks(model, field, id, (value ?? []) as number[], transaction)));
    else if (value === undefined) delete values[field.id];
    else values[field.id] = value;
  }
  problems.push(...(await missingMedia(changed, transaction)));
  if (terms) problems.push(...(await writeTerms(model, type, id, terms, transaction)));
  if (row?.get('status') === 'published') {
    const present = { ...values };
    for (const field of type.fields)
      if (field.kind === 'relation' && field.required && (await hasLinks(field, id, transaction)))
        present[field.id] = true;
    problems.push(...missingValues(type, present));
  }
  if (problems.length) throw new Refusal(422, 'The record cannot be saved.', problems);
  await table('records').update({ values }, { where: { id }, transaction });
  await writeIndex(type, id, transaction);
}

async function missingMedia(changed: Map<Field, unknown>, transaction: Transaction): Promise<Problem[]> {
  const wanted = [...changed].filter(([field, value]) => field.kind === 'picture' && value !== undefined);
  if (!wanted.length) return [];
  const found = await select<{ id: number }>(
    'SELECT id FROM media WHERE id IN (?)',
    [wanted.map(([, value]) => value)],
    transaction,
  );
  const known = new Set(found.map((row) => row.id));
  return wanted
    .filter(([, value]) => !known.has(value as number))
    .map(([field, value]) =>
      problem(
        `values.${field.id}`,
        `There is no picture ${String(value)} in the library.`,
        'Choose one from the library.',
      ),
    );
}

const settingsOf = (field: Field) => kindOf(field)?.settings as RelationSettings;

async function hasLinks(field: Field, id: number, transaction: Transaction): Promise<boolean> {
  const { relationId, side } = settingsOf(field);
  return (
    (
      await select(
        `SELECT 1 AS one FROM links WHERE relation_id = ? AND ${side}_id = ? LIMIT 1`,
        [relationId, id],
        transaction,
      )
    ).length > 0
  );
}

/** Makes `ids` the records that `id` is linked to by a field, seen from the field's side. Where the other side takes one, it lets go of its former. */
async function writeLinks(
  model: ModelIndex,
  field: Field,
  id: number,
  ids: number[],
  transaction: Transaction,
): Promise<Problem[]> {
  const { relationId, side, typeIds } = settingsOf(field);
  const far = side === 'a' ? 'b' : 'a';
  const at = `values.${field.id}`;
  if (ids.length) {
    const found = await select<{ id: number; typeId: string }>(
      'SELECT id, type_id AS typeId FROM records WHERE id IN (?)',
      [ids],
      transaction,
    );
    const typeOf = new Map(found.map((row) => [row.id, row.typeId]));
    const problems = ids.flatMap((other) => {
      const typeId = typeOf.get(other);
      if (!typeId) return [problem(at, `There is no record ${other}.`, 'Choose one that exists.')];
      return typeIds.includes(typeId)
        ? []
        : [problem(at, `Record ${other} is not of a type that “${field.label}” leads to.`)];
    });
    if (problems.length) return problems;
  }
  const before = await select<{ far: number; position: number }>(
    `SELECT ${far}_id AS far, ${far}_position AS position FROM links WHERE relation_id = ? AND ${side}_id = ? FOR UPDATE`,
    [relationId, id],
    transaction,
  );
  const kept = new Map(before.map((link) => [link.far, link.position]));
  await run(`DELETE FROM links WHERE relation_id = ? AND ${side}_id = ?`, [relationId, id], transaction);
  const other = otherSide(model, field);
  if (other && ids.length && !settingsOf(other).many)
    await run(`DELETE FROM links WHERE relation_id = ? AND ${far}_id IN (?)`, [relationId, ids], transaction);
  if (!ids.length) return [];
  // New links go to the end of the other side's list; kept ones stay where they were in it.
  const ends = await select<{ far: number; end: number }>(
    `SELECT ${far}_id AS far, MAX(${far}_position) AS end FROM links WHERE relation_id = ? AND ${far}_id IN (?) GROUP BY ${far}_id`,
    [relationId, ids],
    transaction,
  );
  const endOf = new Map(ends.map((row) => [row.far, row.end]));
  const rows = ids.map((farId, i) => {
    const farPosition = kept.get(farId) ?? (endOf.get(farId) ?? -1) + 1;
    return side === 'a' ? [relationId, id, farId, i, farPosition] : [relationId, farId, id, farPosition, i];
  });
  await run('INSERT INTO links (relation_id, a_id, b_id, a_position, b_position) VALUES ?', [rows], transaction);
  return [];
}

async function writeTerms(
  model: ModelIndex,
  type: ContentType,
  id: number,
  terms: string[],
  transaction: Transaction,
): Promise<Problem[]> {
  const unique = [...new Set(terms)];
  const wrong = unique.filter((term) => !type.taxonomyIds.includes(model.term(term)?.taxonomyId ?? ''));
  if (wrong.length)
    return wrong.map((term) =>
      problem(
        'terms',
        `${type.name} cannot be filed under “${model.term(term)?.name ?? term}”.`,
        'Choose a term of its taxonomies.',
      ),
    );
  await run('DELETE FROM record_terms WHERE record_id = ?', [id], transaction);
  if (unique.length)
    await run(
      'INSERT INTO record_terms (record_id, term_id, position) VALUES ?',
      [unique.map((term, i) => [id, term, i])],
      transaction,
    );
  return [];
}

/** Writes anew what lists look up of one record. */
async function writeIndex(type: ContentType, id: number, transaction: Transaction): Promise<void> {
  const row = await table('records').findByPk(id, { transaction });
  if (!row) return;
  const title = row.get('title') as string;
  const instant = (name: string) => (row.get(name) as Date | null)?.getTime();
  const rows: unknown[][] = [
    [id, '@title', null, fold(title), title.slice(0, 191)],
    [id, '@type', null, type.id, null],
    [id, '@created', instant('created'), null, null],
    [id, '@changed', instant('changed'), null, null],
  ];
  if (instant('published') !== undefined) rows.push([id, '@published', instant('published'), null, null]);
  const values = row.get('values') as Record<string, unknown>;
  for (const field of type.fields) {
    const value = values[field.id];
    const known = kindOf(field);
    if (value === undefined || !known?.kind.index || known.many || known.kind.isEmpty(value)) continue;
    const { number, text } = known.kind.index(value);
    const sort = known.kind.family === 'text' ? String(value).slice(0, 191) : null;
    rows.push([id, field.id, number ?? null, text ?? null, sort]);
  }
  await run('DELETE FROM record_index WHERE record_id = ?', [id], transaction);
  await run('INSERT INTO record_index (record_id, field_id, number, text, sort) VALUES ?', [rows], transaction);
}
