import { pageAsked } from '../../core/loops/evaluate';
import { pageOf } from '../../core/loops/loop';
import type { CompiledLoop, OrderKey } from '../../core/loops/compiled';
import type { Beside, ModelIndex } from '../../core/model/model-index';
import type { Env } from '../../core/paths/env';
import { INDEXED, whereOf, type ListConditions, type ListReader } from './conditions';
import { select } from '../database/connect';
import { and, listed, type Condition, type Selected, type Sql } from './sql';

/**
 * A list as the database answers it. `whole` lists are complete as they come; of the others the database gives the
 * candidates, and what it cannot ask (tests across relations, counts) is left for memory.
 */
export interface ListQuery {
  ids: Selected;
  count?: Selected;
  whole: boolean;
}

/** Which part of the list is wanted; the loop's own skip, limit and page without it. */
export interface Window {
  offset: number;
  count: number;
  /** Few records pass the filter, so that they are found first and put in order then. */
  narrow?: boolean;
}

/**
 * Compiles a loop over a query or an archive, with the values its operands have in this environment. A list of one type
 * is read along the index of its first order key, which has a row for every record, empties last.
 */
export function listQuery(loop: CompiledLoop, env: Env, reader: ListReader, window?: Window): ListQuery {
  const { drafts } = reader;
  const { typeIds } = loop.scope;
  const asked = whereOf(loop, env, reader);
  const { where, parts, left } = asked;
  const whole = !left && loop.order.every((key) => orderColumn(key, env.model.beside) !== undefined);
  if (!whole)
    return {
      ids: {
        what: 'r.id',
        sql: `FROM records r WHERE ${where.on('r.id')} ORDER BY r.id LIMIT 1000000`,
        values: where.values,
      },
      whole,
    };

  const { offset, count } = window ?? pageOf(loop, Infinity, pageAsked(loop, env));
  const part = { offset, count: Math.min(count, 1_000_000) };
  const [first] = loop.order;
  const ids =
    first?.step !== undefined && typeIds.length === 1 && !window?.narrow
      ? alongIndex(loop, env.model, asked, drafts, part)
      : throughRecords(loop, env.model, where, part);
  // Without pages, how many there are follows from what comes.
  if (!loop.perPage && !window) return { ids, whole };
  const total: Selected = parts.length
    ? counting(loop, asked, drafts)
    : {
        what: 'COALESCE(SUM(c.n), 0)',
        sql: `FROM record_counts c WHERE c.type_id IN (?)${drafts ? '' : " AND c.status = 'published'"}`,
        values: [listed(typeIds)],
      };
  return { ids, count: total, whole };
}

/**
 * How many records there are: along the rows of one field where some condition holds for these, else record by record. A
 * value of several has a row for each, of which the first stands for the record.
 */
function counting(loop: CompiledLoop, { parts, where }: ListConditions, drafts: boolean): Selected {
  const along = parts.find((part) => part.rows)?.rows;
  if (!along) return { what: 'COUNT(*)', sql: `FROM records r WHERE ${where.on('r.id')}`, values: where.values };
  const others = and(parts.filter((part) => part.rows !== along));
  const { typeIds } = loop.scope;
  return {
    what: 'COUNT(*)',
    sql: `FROM record_index c0 ${along.test.byNumber ? 'FORCE INDEX (numbers)' : ''} ${others.ofRecord ? 'JOIN records r ON r.id = c0.record_id' : ''} WHERE c0.type_id IN (?) AND c0.field_id = ? AND c0.shown ${drafts ? 'IN (TRUE, FALSE)' : '= TRUE'} AND c0.is_empty = FALSE AND c0.part = 0 AND ${along.test.on('c0')} AND ${others.on('c0.record_id')}`,
    values: [listed(typeIds), along.step, ...along.test.values, ...others.values],
  };
}

/** What one key of the order is in SQL, and whether it is empty. */
function orderKeys(loop: CompiledLoop, model: ModelIndex, along: boolean): (Sql & { empty: string; down: boolean })[] {
  return loop.order.map((key, i) => ({
    ...(orderColumn(key, model.beside) as (i: number) => Sql)(i),
    down: key.down,
    // Without a row of its own a field belongs to another of the types, and is as empty.
    empty: along && i === 0 ? 'o0.is_empty' : `COALESCE(o${i}.is_empty, 1)`,
  }));
}

const joinOf = ({ step }: OrderKey, i: number, id: string): Sql => ({
  sql: `LEFT JOIN record_index o${i} ON o${i}.record_id = ${id} AND o${i}.field_id = ? AND o${i}.part = 0`,
  values: [step],
});

/** A list of one type, or of several, put in order once its records are found. */
function throughRecords(loop: CompiledLoop, model: ModelIndex, where: Condition, { offset, count }: Window): Selected {
  const joins = loop.order.map((key, i) => joinOf(key, i, 'r.id'));
  const keys = orderKeys(loop, model, false);
  const order = [...keys.map((key) => `${key.empty}, ${key.sql}${key.down ? ' DESC' : ''}`), 'r.id'].join(', ');
  return {
    what: 'r.id',
    sql: `FROM records r ${joins.map((j) => j.sql).join(' ')} WHERE ${where.on('r.id')} ORDER BY ${order} LIMIT ? OFFSET ?`,
    values: [...joins.flatMap((j) => j.values), ...where.values, ...keys.flatMap((k) => k.values), count, offset],
  };
}

/**
 * A list of one type, read along the index of its first order key, which has what visitors see apart from drafts. With
 * drafts both are read and put together. Records are looked at only where a condition asks for more than their id.
 */
function alongIndex(
  loop: CompiledLoop,
  model: ModelIndex,
  asked: ListConditions,
  drafts: boolean,
  { offset, count }: Window,
): Selected {
  const [first, ...others] = loop.order as [OrderKey, ...OrderKey[]];
  const joins = others.map((key, i) => joinOf(key, i + 1, 'o0.record_id'));
  const keys = orderKeys(loop, model, true);
  const where = and(asked.parts);
  // Several indexes begin alike; only this one has the rows in the order that is asked for.
  const index =
    first.step === '@type'
      ? ''
      : `FORCE INDEX (${first.path.type.kind.family.order === 'sort' ? 'sorts' : 'numbers'}${first.down ? '_down' : ''})`;
  const down = (key: { down: boolean }) => (key.down ? ' DESC' : '');
  const order = [...keys.map((key) => `${key.empty}, ${key.sql}${down(key)}`), 'o0.record_id'].join(', ');
  const part = (shown: boolean, own: Window): Selected => ({
    what: 'o0.record_id',
    sql: `FROM record_index o0 ${index} ${where.ofRecord ? 'STRAIGHT_JOIN records r ON r.id = o0.record_id' : ''} ${joins.map((j) => j.sql).join(' ')} WHERE o0.type_id = ? AND o0.field_id = ? AND o0.shown = ${shown ? 'TRUE' : 'FALSE'} AND o0.part = 0 AND ${where.on('o0.record_id')} ORDER BY ${order} LIMIT ? OFFSET ?`,
    values: [
      ...joins.flatMap((j) => j.values),
      ...[loop.scope.typeIds[0], first.step],
      ...where.values,
      ...keys.flatMap((k) => k.values),
      ...[own.count, own.offset],
    ],
  });
  if (!drafts) return part(true, { offset, count });
  const columns = keys.map((key, i) => `, ${key.empty} AS e${i}, ${key.sql} AS k${i}`).join('');
  const upTo = { offset: 0, count: offset + count };
  const both = [true, false].map((shown) => {
    const { what, sql, values } = part(shown, upTo);
    return {
      sql: `(SELECT ${what} AS id${columns} ${sql})`,
      values: [...keys.flatMap((key) => key.values), ...values],
    };
  });
  return {
    what: 'u.id',
    sql: `FROM (${both.map(({ sql }) => sql).join(' UNION ALL ')}) u ORDER BY ${keys.map((key, i) => `u.e${i}, u.k${i}${down(key)}`).join(', ')}, u.id LIMIT ? OFFSET ?`,
    values: [...both.flatMap(({ values }) => values), count, offset],
  };
}

function orderColumn({ path: { type }, step }: OrderKey, beside: Beside | undefined): ((i: number) => Sql) | undefined {
  // Values of related records, counts and some built-in values are not in the index, and are left for memory.
  if (step === undefined || (step.startsWith('@') && !INDEXED.has(step))) return undefined;
  const { family } = type.kind;
  if (beside?.written.has(step)) {
    const settings = beside.written.get(step);
    if (!settings || family.possible.by !== 'answers') return undefined;
    // Its options were in another order when the values were written; what is known by none of them comes first, as there.
    const keys = family.possible.values(type.settings) as string[];
    return (i) => ({ sql: `FIELD(o${i}.text, ?)`, values: [keys] });
  }
  if (type.kind.family.order === 'sort') return (i) => ({ sql: `o${i}.sort`, values: [] });
  if (step !== '@type') return (i) => ({ sql: `o${i}.number`, values: [] });
  const keys = (type.settings as { options: { key: string }[] }).options.map((option) => option.key);
  return (i) => ({ sql: `FIELD(o${i}.text, ?)`, values: [keys] });
}

/** Numbers of the records that a finished statement finds, in their order. */
export const idsFound = async ({ sql, values }: Sql): Promise<number[]> =>
  (await select<{ id: number }>(sql, values)).map(({ id }) => id);

/** What a finished statement counts. */
export const numberFound = async ({ sql, values }: Sql): Promise<number> =>
  Number((await select<{ n: number }>(sql, values))[0]?.n ?? 0);
