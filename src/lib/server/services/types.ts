import { freeKeys, keepRemoved, putInOrder, setSettings } from '../queries/types';
import { recordsAtSlugs } from '../queries/records';
import { FIELD_PARTS, clearFields } from '../queries/record-parts';
import { clearCounts } from '../queries/counts';
import { lockSite, modelMoved } from '../queries/site';
import { eachBatch, followFields } from './kind-changes';
import type { OptionAnswer } from '../../core/content/options';
import { followOptions } from './option-changes';
import type { Transaction } from 'sequelize';
import { indexModel, parseContentType } from '../../core/model/model';
import type { ContentType } from '../../core/schema/model';
import type { ModelIndex } from '../../core/model/model-index';
import { relationOf } from '../../core/model/field';
import { problem, type Problem } from '../../core/base/result';
import { structuredProblems } from '../../core/render/structured';
import { RESERVED } from '../../core/base/reserved';
import { compiledPattern, patternOf, patternProblems, takenFirstParts } from '../../core/addresses/patterns';
import { inTransaction } from '../database/connect';
import { hasForeignField, putContentType, putField, typeLike } from '../queries/model';
import { notFound, Refusal, type Guard } from '../base/refusal';
import { goingUnder } from './record-checks';
import { readModel, readModels } from './model';
import { removeRecords } from './record-removal';
import { beginRemoval, sweep } from './removal';

/** Creates a content type with its fields, or brings one to this state. Fields are known by id, so keys may change. */
export async function saveContentType(input: unknown, guard?: Guard): Promise<ContentType> {
  return (await saveContentTypes([input], guard)).types[0] as ContentType;
}

/**
 * Saves content types together, so that both sides of a relation come about at once. Fields left out are taken away,
 * and can be brought back by the removal that is told. Values of fields whose kind has changed are converted; what
 * cannot be is given up, as `previewKind` says beforehand. `answers` say what becomes of values whose option goes.
 */
export async function saveContentTypes(
  inputs: unknown[],
  guard?: Guard,
  answers: readonly OptionAnswer[] = [],
): Promise<{ types: ContentType[]; removal?: string }> {
  const types = inputs.map((input) => {
    const parsed = parseContentType(input);
    if (!parsed.ok) throw new Refusal(422, 'The content type is not complete.', parsed.problems);
    return parsed.value;
  });
  const removal = await inTransaction(async (transaction) => {
    // One writer of the model at a time.
    await lockSite(transaction);
    const before = await readModel(transaction);
    if (guard) for (const { id } of types) guard(before.type(id));
    let removal: string | undefined;
    for (const [i, given] of types.entries()) {
      const former = before.type(given.id);
      const type = former ? await followOptions(given, former, answers, transaction) : given;
      types[i] = type;
      removal = (await writeType(type, before, removal, transaction)) ?? removal;
    }
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

/** Writes one content type over the one that the model has. Gives the removal under which its fields went. */
export async function writeType(
  type: ContentType,
  model: ModelIndex,
  begun: string | undefined,
  transaction: Transaction,
): Promise<string | undefined> {
  const { fields, ...own } = type;
  const clash = await typeLike(own, transaction);
  if (clash) {
    const at = clash.base === own.base ? 'base' : 'key';
    throw new Refusal(409, `${clash.name} has this ${at === 'base' ? 'address' : 'key'} already.`, [
      { at, what: `${clash.name} has it already.`, fix: 'Choose another one.' },
    ]);
  }
  const former = model.type(own.id);
  await checkDesign(type, former, model, transaction);
  await putContentType(own, transaction);
  const fieldIds = fields.map((field) => field.id);
  if (await hasForeignField(own.id, fieldIds, transaction))
    throw new Refusal(409, 'A field with this id belongs to another content type.');
  const gone = former?.fields.filter((field) => !fieldIds.includes(field.id)) ?? [];
  let removal = begun;
  if (gone.length) {
    removal ??= await beginRemoval(
      gone.length === 1 ? `field “${gone[0]?.label}” of ${own.name}` : `${gone.length} fields of ${own.name}`,
      transaction,
    );
    await sweep(removal, [{ table: 'fields', column: 'id', values: gone.map((field) => field.id) }], transaction);
    // What visitors see of them stays until a release without them.
    const { seen } = await readModels(transaction);
    const shown = new Set(seen.flatMap((one) => one.fields.map(({ id }) => id)));
    for (const part of FIELD_PARTS) {
      const ids = gone.flatMap(({ id }) => (part !== 'unique_values' && shown.has(id) ? [] : [id]));
      if (ids.length) await clearFields(part, ids, transaction);
    }
  }
  // Keys may be swapped between fields, so every key leaves its place before the new ones arrive.
  await freeKeys(own.id, transaction);
  for (const [i, field] of fields.entries()) await putField(own.id, field, i, transaction);
  await modelMoved(transaction);
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
  if (former?.base !== type.base && RESERVED.has(type.base))
    problems.push(problem('base', 'This address belongs to the application.', 'Choose another one.'));
  else if (!former || patternOf(former) !== patternOf(type)) problems.push(...patternProblems(type, model));
  if (!problems.length && compiledPattern(type)?.slugFirst && (!former || patternOf(former) !== patternOf(type))) {
    const clashes = await recordsAtSlugs(type.id, [...takenFirstParts(model)], transaction);
    problems.push(
      ...clashes
        .slice(0, 5)
        .map(({ title, slug }) =>
          problem(
            'address',
            `“${title}” would be at /${slug}, which belongs to something else.`,
            'Change its address part first.',
          ),
        ),
    );
  }
  // A new archive takes the place of a record that stands right at the top.
  if (!former || former.base !== type.base) {
    const others = model.types.filter(({ id }) => id !== type.id);
    problems.push(...(await goingUnder(type.base, others, transaction)).map((p) => ({ ...p, at: 'base' })));
  }
  if (problems.length) throw new Refusal(422, 'The content type is not complete.', problems);
}

const withType = (model: ModelIndex, type: ContentType): ModelIndex =>
  indexModel({ ...model, types: [...model.types.filter((one) => one.id !== type.id), type] });

/**
 * Deletes a content type with its records. Relations that lead nowhere else go with it. Told is how to undo it. What
 * visitors see of it stays, out of everybody else's sight, so that it goes for them with the next release.
 */
export async function deleteContentType(typeId: string, guard?: Guard): Promise<{ removal: string }> {
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    const model = await readModel(transaction);
    const type = model.type(typeId);
    if (!type) throw notFound('content type with this id');
    guard?.(type);
    const removal = await beginRemoval(`content type “${type.name}”`, transaction);
    const shown = (await readModels(transaction)).seen.some(({ id }) => id === typeId);
    if (!shown)
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
          [{ table: 'fields', column: 'id', values: [field.id], stay: left.length > 0 }],
          transaction,
        );
        if (left.length) await setSettings(field.id, { ...settings, typeIds: left }, transaction);
      }
    await sweep(
      removal,
      [
        { table: 'fields', column: 'type_id', values: [typeId] },
        { table: 'content_types', column: 'id', values: [typeId], stay: shown },
      ],
      transaction,
    );
    if (shown) await keepRemoved('content_types', typeId, transaction);
    else await clearCounts(typeId, transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

/** Puts the content types in this order. */
export async function orderContentTypes(ids: string[]): Promise<void> {
  await inTransaction(async (transaction) => {
    await putInOrder('content_types', ids, transaction);
    await modelMoved(transaction);
  });
}
