import type { Transaction } from 'sequelize';
import { relationOf, type RelationSide } from '../../core/model/field';
import type { Field } from '../../core/schema/field';
import type { ModelIndex } from '../../core/model/model-index';
import { problem, type Problem } from '../../core/base/result';
import { run, select } from '../database/connect';

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
  const known = await select<{ id: number; typeId: string }>(
    'SELECT id, type_id AS typeId FROM records WHERE id IN (?) ORDER BY id FOR UPDATE',
    [[...own, ...farIds]],
    transaction,
  );
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

  const before = await select<{ near: number; far: number; position: number }>(
    `SELECT ${side}_id AS near, ${far}_id AS far, ${far}_position AS position FROM links WHERE relation_id = ? AND ${side}_id IN (?)`,
    [relationId, own],
    transaction,
  );
  const kept = new Map(before.map((link) => [`${link.near} ${link.far}`, link.position]));
  if (before.length)
    await run(`DELETE FROM links WHERE relation_id = ? AND ${side}_id IN (?)`, [relationId, own], transaction);
  const other = otherSide(model, field);
  const single = other !== undefined && !relationOf(other)?.many;
  if (single && farIds.length)
    await run(`DELETE FROM links WHERE relation_id = ? AND ${far}_id IN (?)`, [relationId, farIds], transaction);
  if (!farIds.length) return [];
  // New links go to the end of the other side's list; kept ones stay where they were in it.
  const ends = await select<{ far: number; end: number }>(
    `SELECT ${far}_id AS far, MAX(${far}_position) AS end FROM links WHERE relation_id = ? AND ${far}_id IN (?) GROUP BY ${far}_id`,
    [relationId, farIds],
    transaction,
  );
  const endOf = new Map(ends.map((row) => [row.far, row.end]));
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
  for (let i = 0; i < rows.length; i += 2000)
    await run(
      'INSERT INTO links (relation_id, a_id, b_id, a_position, b_position) VALUES ?',
      [rows.slice(i, i + 2000).map((row) => [relationId, ...row])],
      transaction,
    );
  return [];
}

/** Which of these records are linked by a field. */
export async function linked(field: Field, ids: number[], transaction?: Transaction): Promise<Set<number>> {
  const { relationId, side } = relationOf(field) as RelationSide;
  const rows = await select<{ id: number }>(
    `SELECT DISTINCT ${side}_id AS id FROM links WHERE relation_id = ? AND ${side}_id IN (?)`,
    [relationId, ids],
    transaction,
  );
  return new Set(rows.map((row) => row.id));
}
