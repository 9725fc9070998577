import { Op, type Transaction } from 'sequelize';
import { indexModel, parseContentType, kindOf, type Field } from '../../core/model/model';
import type { ContentType } from '../../core/schema/model';
import type { ModelIndex } from '../../core/model/model-index';
import { isList } from '../../core/model/field';
import { problem, type Problem } from '../../core/base/result';
import { structuredProblems } from '../../core/render/structured';
import { compiledPattern, patternOf, patternProblems, takenFirstParts } from '../../core/addresses/patterns';
import type { Path } from '../../core/schema/path';
import { pathsOf } from '../../core/rules/walk';
import { usesOf } from '../../core/templates/tree';
import { inTransaction, run, select } from '../database/connect';
import { table } from '../database/tables';
import { notFound, Refusal, type Guard } from '../refusal';
import { convertValue } from '../../core/content/convert';
import { leadsOf, relationOf } from '../../core/model/field';
import { otherSide } from './links';
import { modelMoved, readModel } from './model';
import { keptRecords, reindex, writeUnique } from './record-parts';
import { removeRecords } from './records';
import { beginRemoval, sweep } from './removal';
import { readTemplates } from './templates';

/** Creates a content type with its fields, or brings one to this state. Fields are known by id, so keys may change. */
export async function saveContentType(input: unknown, guard?: Guard): Promise<ContentType> {
  return (await saveContentTypes([input], guard)).types[0] as ContentType;
}

/**
 * Saves content types together, so that both sides of a relation come about at once. Fields left out are taken away,
 * and can be brought back by the removal that is told. Values of fields whose kind has changed are converted; what
 * cannot be is given up, as `previewKind` says beforehand.
 */
export async function saveContentTypes(
  inputs: unknown[],
  guard?: Guard,
): Promise<{ types: ContentType[]; removal?: string }> {
  const types = inputs.map((input) => {
    const parsed = parseContentType(input);
    if (!parsed.ok) throw new Refusal(422, 'The content type is not complete.', parsed.problems);
    return parsed.value;
  });
  const removal = await inTransaction(async (transaction) => {
    // One writer of the model at a time.
    await select('SELECT id FROM sites WHERE id = 1 FOR UPDATE', [], transaction);
    const before = await readModel(transaction);
    if (guard) for (const { id } of types) guard(before.type(id));
    let removal: string | undefined;
    for (const type of types) removal = (await saveOne(type, before, removal, transaction)) ?? removal;
    await modelMoved(transaction);
    const doubled = await doubledSides(transaction);
    if (doubled.length) throw new Refusal(422, 'The content type is not complete.', doubled);
    return removal;
  });
  return { types, ...(removal ? { removal } : {}) };
}

async function doubledSides(transaction: Transaction): Promise<Problem[]> {
  const model = await readModel(transaction);
  const sides = new Map<string, string>();
  const problems: Problem[] = [];
  for (const type of model.types)
    for (const [i, field] of type.fields.entries()) {
      const relation = relationOf(field);
      if (!relation) continue;
      const { relationId, side } = relation;
      const key = `${relationId} ${side} ${type.id}`;
      if (sides.has(key))
        problems.push(
          problem(
            `fields.${i}`,
            `“${field.label}” and “${sides.get(key)}” are the same side of one relation.`,
            'Take one of them away.',
          ),
        );
      sides.set(key, field.label);
    }
  return problems;
}

async function saveOne(
  type: ContentType,
  model: ModelIndex,
  begun: string | undefined,
  transaction: Transaction,
): Promise<string | undefined> {
  const { fields, ...own } = type;
  const clash = await table('contentTypes').findOne({
    where: { [Op.or]: [{ base: own.base }, { key: own.key }], id: { [Op.ne]: own.id } },
    transaction,
  });
  if (clash) {
    const other = clash.get('name') as string;
    const at = clash.get('base') === own.base ? 'base' : 'key';
    throw new Refusal(409, `${other} has this ${at === 'base' ? 'address' : 'key'} already.`, [
      { at, what: `${other} has it already.`, fix: 'Choose another one.' },
    ]);
  }
  const former = model.type(own.id);
  await checkDesign(type, former, model, transaction);
  const existing = await table('contentTypes').findByPk(own.id, { transaction });
  const position = existing ? (existing.get('position') as number) : await table('contentTypes').count({ transaction });
  await table('contentTypes').upsert(
    {
      ...own,
      description: own.description ?? '',
      address: own.address || null,
      structured: own.structured ?? null,
      position,
    },
    { transaction },
  );
  const kept = fields.map((field) => field.id);
  const foreign = kept.length
    ? await table('fields').findOne({ where: { id: kept, typeId: { [Op.ne]: own.id } }, transaction })
    : null;
  if (foreign) throw new Refusal(409, 'A field with this id belongs to another content type.');
  const gone = former?.fields.filter((field) => !kept.includes(field.id)) ?? [];
  let removal = begun;
  if (gone.length) {
    removal ??= await beginRemoval(
      gone.length === 1 ? `field “${gone[0]?.label}” of ${own.name}` : `${gone.length} fields of ${own.name}`,
      transaction,
    );
    await sweep(
      removal,
      [{ table: 'fields', where: 'id IN (?)', values: [gone.map((field) => field.id)] }],
      transaction,
    );
    for (const name of ['record_index', 'record_words', 'mentions', 'unique_values'])
      await run(`DELETE FROM ${name} WHERE field_id IN (?)`, [gone.map((field) => field.id)], transaction);
  }
  // Keys may be swapped between fields, so every key leaves its place before the new ones arrive.
  await run("UPDATE fields SET `key` = CONCAT('was_', id) WHERE type_id = ?", [own.id], transaction);
  for (const [i, field] of fields.entries())
    await table('fields').upsert(
      {
        ...field,
        initial: field.initial === undefined || field.initial === null ? null : { value: field.initial },
        typeId: own.id,
        position: i,
      },
      { transaction },
    );
  if (former) await followFields(type, former, transaction);
  return removal;
}

/** Refuses addresses that could not be told apart, or that belong to something else, and properties that nothing has. */
async function checkDesign(
  type: ContentType,
  former: ContentType | undefined,
  model: ModelIndex,
  transaction: Transaction,
): Promise<void> {
  const problems = type.structured ? structuredProblems(type.structured, type.id, withType(model, type)) : [];
  if (!former || patternOf(former) !== patternOf(type)) problems.push(...patternProblems(type, model));
  if (!problems.length && compiledPattern(type)?.slugFirst && (!former || patternOf(former) !== patternOf(type))) {
    const clashes = await select<{ title: string; slug: string }>(
      'SELECT title, slug FROM records WHERE type_id = ? AND slug IN (?) LIMIT 5',
      [type.id, [...takenFirstParts(model)]],
      transaction,
    );
    problems.push(
      ...clashes.map(({ title, slug }) =>
        problem(
          'address',
          `“${title}” would be at /${slug}, which belongs to something else.`,
          'Change its address part first.',
        ),
      ),
    );
  }
  // A new archive takes the place of a record that stands right at the top.
  if (!former || former.base !== type.base)
    for (const other of model.types) {
      if (other.id === type.id || !compiledPattern(other)?.slugFirst) continue;
      const [clash] = await select<{ title: string }>(
        'SELECT title FROM records WHERE type_id = ? AND slug = ? LIMIT 1',
        [other.id, type.base],
        transaction,
      );
      if (clash)
        problems.push(
          problem(
            'base',
            `“${clash.title}” has the address /${type.base}.`,
            'Choose another one, or change that of the record.',
          ),
        );
    }
  if (problems.length) throw new Refusal(422, 'The content type is not complete.', problems);
}

const withType = (model: ModelIndex, type: ContentType): ModelIndex =>
  indexModel({ ...model, types: [...model.types.filter((one) => one.id !== type.id), type] });

/** Brings records after their fields: converts values, and writes anew what follows from changed fields. */
async function followFields(type: ContentType, former: ContentType, transaction: Transaction): Promise<void> {
  const was = (field: Field) => former.fields.find((f) => f.id === field.id);
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const changed = type.fields.filter((field) => {
    const before = was(field);
    return !before || before.kind !== field.kind || !same(before.settings, field.settings);
  });
  const converted = changed.filter((field) => was(field) && was(field)?.kind !== field.kind);
  for (const field of converted) {
    const before = was(field) as Field;
    if (leadsOf(before) === 'record' || leadsOf(field) === 'record')
      throw new Refusal(422, 'A relation cannot become another kind, nor another kind a relation.', [
        problem(`fields.${type.fields.indexOf(field)}.kind`, 'Relations stay relations.', 'Add another field instead.'),
      ]);
    await eachBatch(type.id, transaction, async (ids) => {
      for (const record of await keptRecords(ids, transaction)) {
        if (record.values[field.id] === undefined) continue;
        const value = convertValue(before, field, record.values[field.id]);
        if (value === undefined) delete record.values[field.id];
        else record.values[field.id] = value;
        await run(
          'UPDATE records SET `values` = ?, version = version + 1 WHERE id = ?',
          [JSON.stringify(record.values), record.id],
          transaction,
        );
      }
    });
  }
  const unique = type.fields.filter((field) => field.unique && !was(field)?.unique);
  if (unique.length)
    await eachBatch(type.id, transaction, async (ids) => {
      const [problem] = await writeUnique(
        { ...type, fields: unique },
        await keptRecords(ids, transaction),
        transaction,
      );
      if (problem)
        throw new Refusal(422, 'Two records have the same value already.', [{ at: problem.at, what: problem.what }]);
    });
  const dropped = type.fields.filter((field) => !field.unique && was(field)?.unique).map((field) => field.id);
  if (dropped.length) await run('DELETE FROM unique_values WHERE field_id IN (?)', [dropped], transaction);
  if (changed.length) await reindex(type, transaction, new Set(changed.map((field) => field.id)));
}

async function eachBatch(
  typeId: string,
  transaction: Transaction | undefined,
  body: (ids: number[]) => Promise<void>,
): Promise<void> {
  for (let after = 0; ;) {
    const rows = await select<{ id: number }>(
      'SELECT id FROM records WHERE type_id = ? AND id > ? ORDER BY id LIMIT 500',
      [typeId, after],
      transaction,
    );
    if (!rows.length) return;
    after = rows.at(-1)!.id;
    await body(rows.map((row) => row.id));
  }
}

/** Where texts of values need nothing beside the value and the model. */
const NOBODY = { record: () => undefined, media: () => undefined, addressOf: () => '', termAddress: () => '' };

export interface KindPreview {
  kept: number;
  lost: number;
  empty: number;
  /** A few values, as they are and as they would be. */
  examples: { title: string; before: string; after: string | null }[];
}

/** What becomes of a field's values if its kind or settings change so; nothing is written. */
export async function previewKind(typeId: string, input: unknown): Promise<KindPreview> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const wanted = input as Field;
  const before = type.fields.find((field) => field.id === wanted?.id);
  if (!before) throw notFound('field with this id');
  const parsed = parseContentType({ ...type, fields: [wanted] });
  if (!parsed.ok) throw new Refusal(422, 'The field is not complete.', parsed.problems);
  const after = parsed.value.fields[0] as Field;
  const out: KindPreview = { kept: 0, lost: 0, empty: 0, examples: [] };
  if (leadsOf(before) === 'record' || leadsOf(after) === 'record') return out;
  const show = (field: Field, value: unknown): string => {
    const known = kindOf(field);
    if (!known) return '';
    return (isList(known) ? (value as unknown[]) : [value])
      .map((one) => (known.kind.pointsAt ? String(one) : known.kind.text(one, known.settings, { ...NOBODY, model })))
      .join(', ')
      .slice(0, 120);
  };
  await eachBatch(typeId, undefined, async (ids) => {
    for (const record of await keptRecords(ids)) {
      const value = record.values[before.id];
      if (value === undefined) {
        out.empty++;
        continue;
      }
      const converted = convertValue(before, after, value);
      if (converted === undefined) out.lost++;
      else out.kept++;
      const lostSoFar = out.examples.filter((example) => example.after === null).length;
      if (converted === undefined ? lostSoFar < 5 : out.examples.length - lostSoFar < 3)
        out.examples.push({
          title: record.title,
          before: show(before, value),
          after: converted === undefined ? null : show(after, converted),
        });
    }
  });
  return out;
}

export interface Use {
  /** What uses it, in words, and where that is in the studio. */
  what: string;
  href?: string;
}

/** Everything that uses a field: templates, the other side of a relation, and how many records have a value. */
export async function usesOfField(typeId: string, fieldId: string): Promise<{ uses: Use[]; values: number }> {
  const model = await readModel();
  const field = model.type(typeId)?.fields.find((f) => f.id === fieldId);
  if (!field) throw notFound('field with this id');
  const uses = await usesInTemplates(new Set([fieldId]));
  const other = relationOf(field) && otherSide(model, field);
  if (other) {
    const type = model.field(other.id)?.type;
    uses.push({
      what: `“${other.label}” of ${type?.name}, the other side of this relation, stays with its links`,
      href: `/studio/content/${type?.id}/fields`,
    });
  }
  return { uses, values: (await fillRates(typeId)).fields[fieldId] ?? 0 };
}

async function usesInTemplates(fieldIds: ReadonlySet<string>): Promise<Use[]> {
  const reads = (path: Path) => path.steps.some((step) => fieldIds.has(step));
  const rules = (await readModel()).rules.filter(({ rule }) => pathsOf(rule).some(reads));
  const named = rules.map(({ name }) => ({ what: `Rule “${name}”`, href: '/studio/rules' }));
  const templates = (await readTemplates()).flatMap((template) => {
    const used = usesOf(template.tree).filter((use) => reads(use.path));
    return used.length
      ? [
          {
            what: `Template “${template.name}”, in ${used.length} ${used.length === 1 ? 'place' : 'places'}`,
            href: `/studio/workbench/${template.id}`,
          },
        ]
      : [];
  });
  return [...templates, ...named];
}

/** Everything that goes or breaks with a content type. */
export async function usesOfType(typeId: string): Promise<{ uses: Use[]; records: number }> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const uses = await usesInTemplates(new Set(type.fields.map((field) => field.id)));
  for (const template of await readTemplates())
    if (
      template.serves.some((target) => 'typeId' in target && target.typeId === typeId) &&
      !uses.some((use) => use.href?.endsWith(`/${template.id}`))
    )
      uses.push({ what: `Template “${template.name}” serves it`, href: `/studio/workbench/${template.id}` });
  for (const other of model.types)
    for (const field of other.fields)
      if (other.id !== typeId && relationOf(field)?.typeIds.includes(typeId))
        uses.push({
          what: `“${field.label}” of ${other.name} leads to it`,
          href: `/studio/content/${other.id}/fields`,
        });
  return { uses, records: (await countsOf(typeId)).total };
}

/** Deletes a content type with its records. Relations that lead nowhere else go with it. Told is how to undo it. */
export async function deleteContentType(typeId: string, guard?: Guard): Promise<{ removal: string }> {
  return inTransaction(async (transaction) => {
    await select('SELECT id FROM sites WHERE id = 1 FOR UPDATE', [], transaction);
    const model = await readModel(transaction);
    const type = model.type(typeId);
    if (!type) throw notFound('content type with this id');
    guard?.(type);
    const removal = await beginRemoval(`content type “${type.name}”`, transaction);
    await eachBatch(typeId, transaction, async (ids) => {
      await removeRecords(ids, undefined, transaction, removal);
    });
    for (const other of model.types)
      for (const field of other.fields) {
        const settings = relationOf(field);
        if (other.id === typeId || !settings?.typeIds.includes(typeId)) continue;
        const left = settings.typeIds.filter((id) => id !== typeId);
        await sweep(
          removal,
          [{ table: 'fields', where: 'id = ?', values: [field.id], stay: left.length > 0 }],
          transaction,
        );
        if (left.length)
          await run(
            'UPDATE fields SET settings = ? WHERE id = ?',
            [JSON.stringify({ ...settings, typeIds: left }), field.id],
            transaction,
          );
      }
    await sweep(
      removal,
      [
        { table: 'fields', where: 'type_id = ?', values: [typeId] },
        { table: 'content_types', where: 'id = ?', values: [typeId] },
      ],
      transaction,
    );
    await run('DELETE FROM record_counts WHERE type_id = ?', [typeId], transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

/** Puts the content types in this order. */
export async function orderContentTypes(ids: string[]): Promise<void> {
  await inTransaction(async (transaction) => {
    for (const [i, id] of ids.entries())
      await run('UPDATE content_types SET position = ? WHERE id = ?', [i, id], transaction);
    await modelMoved(transaction);
  });
}

export async function countsOf(
  typeId: string,
): Promise<{ total: number; published: number; drafts: number; generated: number }> {
  const [rows, made] = await Promise.all([
    select<{ status: string; n: number }>(
      'SELECT status, SUM(n) AS n FROM record_counts WHERE type_id = ? GROUP BY status',
      [typeId],
    ),
    select<{ n: number }>('SELECT COUNT(*) AS n FROM records WHERE type_id = ? AND is_generated = TRUE', [typeId]),
  ]);
  const of = (status: string) => Number(rows.find((row) => row.status === status)?.n ?? 0);
  const [published, drafts] = [of('published'), of('draft')];
  return { total: published + drafts, published, drafts, generated: Number(made[0]?.n ?? 0) };
}

/** How many of a type's records have a value, field by field. */
export async function fillRates(typeId: string): Promise<{ total: number; fields: Record<string, number> }> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const [rows, counts] = await Promise.all([
    select<{ id: string; n: number }>(
      'SELECT field_id AS id, COUNT(*) AS n FROM record_index WHERE type_id = ? AND field_id IN (?) AND is_empty = FALSE AND part = 0 GROUP BY field_id',
      [typeId, ['', ...type.fields.map((field) => field.id)]],
    ),
    countsOf(typeId),
  ]);
  const fields: Record<string, number> = Object.fromEntries(rows.map((row) => [row.id, Number(row.n)]));
  for (const field of type.fields) {
    const relation = relationOf(field);
    if (!relation) continue;
    const { relationId, side } = relation;
    const [row] = await select<{ n: number }>(
      `SELECT COUNT(DISTINCT l.${side}_id) AS n FROM links l JOIN records r ON r.id = l.${side}_id AND r.type_id = ? WHERE l.relation_id = ?`,
      [typeId, relationId],
    );
    fields[field.id] = Number(row?.n ?? 0);
  }
  return { total: counts.total, fields };
}
