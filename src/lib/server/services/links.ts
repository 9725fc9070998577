import { lockHeads } from '../queries/records';
import { clearLinks, insertLinks, lastPlaces, linkedAmong, linksFrom } from '../queries/links';
import type { Transaction } from 'sequelize';
import { relationOf, type RelationSide } from '../../core/model/field';
import type { Field } from '../../core/schema/field';
import type { ModelIndex } from '../../core/model/model-index';
import { problem, type Problem } from '../../core/base/result';

/** The field on the other side of a relation, if the model names one. */
export function otherSide(model: ModelIndex, field: Field): Field | undefined {
  const own = relationOf(field);
  for (const type of model.types)
    for (const other of type.fields) {
      if (other.id === field.id || !own) continue;
      const settings = relationOf(other);
      if (settings && settings.relationId === own.relationId && settings.side !== own.side) return other;
    }
  return undefined;
}

/**
 * Makes the given ids what each record is linked to by a field, seen from the field's side. Where the other side takes
 * one, it lets go of its former. The records at both ends are locked, so that writers of either side wait for each other.
 */
export async function writeLinks(
  model: ModelIndex,
  field: Field,
  wanted: ReadonlyMap<number, number[]>,
  transaction: Transaction,
): Promise<(Problem & { recordId: number })[]> {
  const { relationId, side, typeIds } = relationOf(field) as RelationSide;
  const far = side === 'a' ? 'b' : 'a';
  const own = [...wanted.keys()];
  if (!own.length) return [];
  const farIds = [...new Set([...wanted.values()].flat())];
  const known = await lockHeads([...own, ...farIds], transaction);
  const typeOf = new Map(known.map((row) => [row.id, row.typeId]));
  const problems = [...wanted].flatMap(([recordId, ids]) =>
    ids.flatMap((id) => {
      const typeId = typeOf.get(id);
      const at = `values.${field.id}`;
      if (!typeId) return [{ ...problem(at, `There is no record ${id}.`, 'Choose one that exists.'), recordId }];
      return typeIds.includes(typeId)
        ? []
        : [{ ...problem(at, `Record ${id} is not of a type that “${field.label}” leads to.`), recordId }];
    }),
  );
  if (problems.length) return problems;

  const before = await linksFrom({ relationId, side }, own, transaction);
  const kept = new Map(before.map((link) => [`${link.near} ${link.far}`, link.position]));
  // Links that are as they were are left alone.
  if (isSame(before, wanted)) return [];
  if (before.length) await clearLinks(relationId, side, own, transaction);
  const other = otherSide(model, field);
  const single = other !== undefined && !relationOf(other)?.many;
  if (single && farIds.length) await clearLinks(relationId, far, farIds, transaction);
  if (!farIds.length) return [];
  // New links go to the end of the other side's list; kept ones stay where they were in it.
  const ends = await lastPlaces(relationId, far, farIds, transaction);
  const endOf = new Map(ends.map((row) => [row.id, row.end]));
  for (const { far: id, position } of before) endOf.set(id, Math.max(endOf.get(id) ?? -1, position));
  const rows: number[][] = [];
  const taken = new Set<number>();
  for (const [nearId, ids] of wanted)
    for (const [i, farId] of ids.entries()) {
      if (single && taken.has(farId)) continue;
      taken.add(farId);
      let position = kept.get(`${nearId} ${farId}`);
      if (position === undefined) endOf.set(farId, (position = (endOf.get(farId) ?? -1) + 1));
      rows.push(side === 'a' ? [nearId, farId, i, position] : [farId, nearId, position, i]);
    }
  await insertLinks(relationId, rows, transaction);
  return [];
}

/** Whether records are linked already as they shall be, in that order. */
function isSame(before: readonly { near: number; far: number }[], wanted: ReadonlyMap<number, number[]>): boolean {
  const lists = new Map<number, number[]>();
  for (const { near, far } of before) lists.set(near, [...(lists.get(near) ?? []), far]);
  return [...wanted].every(([id, list]) => String(list) === String(lists.get(id) ?? []));
}

/** Which of these records are linked by a field. */
export async function linked(field: Field, ids: number[], transaction?: Transaction): Promise<Set<number>> {
  return linkedAmong(relationOf(field) as RelationSide, ids, transaction);
}
