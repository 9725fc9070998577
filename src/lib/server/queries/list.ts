import { leftOut, pageAsked } from '../../core/loops/evaluate';
import { pageOf, type CompiledLoop, type OrderKey } from '../../core/loops/loop';
import { kindOf, type ModelIndex } from '../../core/model/model';
import type { Env } from '../../core/paths/env';
import type { CompiledRule } from '../../core/rules/compile';
import { isGroup } from '../../core/rules/rule';
import type { Lookup } from '../../core/rules/operators/operator';

/** A piece of SQL with the values of its question marks. */
interface Sql {
  sql: string;
  values: unknown[];
}

/**
 * A list as the database answers it. `whole` lists are complete as they come; of the others the database gives the
 * candidates, and what it cannot ask (tests across relations, counts) is left for memory.
 */
export interface ListQuery {
  ids: Sql;
  count?: Sql;
  whole: boolean;
}

const and = (parts: Sql[]): Sql => ({
  sql: parts.map((p) => p.sql).join(' AND ') || 'TRUE',
  values: parts.flatMap((p) => p.values),
});

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
export function listQuery(loop: CompiledLoop, env: Env, drafts: boolean, window?: Window): ListQuery {
  const { typeIds } = loop.scope;
  const base: Sql[] = [{ sql: 'r.type_id IN (?)', values: [typeIds.length ? typeIds : ['']] }];
  if (!drafts) base.push({ sql: "r.status = 'published'", values: [] });
  const out = [...leftOut(loop, env)];
  const asked = loop.filter ? conditions(loop.filter, loop, env, drafts) : { parts: [], left: false };
  const { left } = asked;
  const parts = [...asked.parts, ...(out.length ? [{ sql: 'r.id NOT IN (?)', values: [out] }] : [])];
  const where = and([...base, ...parts]);
  const whole = !left && loop.order.every((key) => orderColumn(key) !== undefined);
  if (!whole)
    return {
      ids: {
        sql: `SELECT r.id AS id FROM records r WHERE ${where.sql} ORDER BY r.id LIMIT 1000000`,
        values: where.values,
      },
      whole,
    };

  const [first, ...others] = loop.order;
  const along = first?.step !== undefined && typeIds.length === 1 && !window?.narrow;
  const bare = along && drafts && !parts.length && !others.length;
  const joined = along ? others : loop.order;
  const shift = along ? 1 : 0;
  const joins = joined.map((key, i) => ({
    sql: `LEFT JOIN record_index o${i + shift} ON o${i + shift}.record_id = r.id AND o${i + shift}.field_id = ? AND o${i + shift}.part = 0`,
    values: [key.step],
  }));
  const keys = loop.order.map((key, i) => ({
    ...(orderColumn(key) as (i: number) => Sql)(i),
    down: key.down,
    // Without a row of its own a field belongs to another of the types, and is as empty.
    empty: along && i === 0 ? 'o0.is_empty' : `COALESCE(o${i}.is_empty, 1)`,
  }));
  const id = along ? 'o0.record_id' : 'r.id';
  const order = [...keys.map((key) => `${key.empty}, ${key.sql}${key.down ? ' DESC' : ''}`), id].join(', ');
  const { offset, count } = window ?? pageOf(loop, Infinity, pageAsked(loop, env));
  // Several indexes begin alike; only this one has the rows in the order that is asked for.
  const index =
    along && first.step !== '@type'
      ? `FORCE INDEX (${COLLATED.has(first.path.type.kind.family) ? 'sorts' : 'numbers'}${first.down ? '_down' : ''})`
      : '';
  const from = along
    ? `record_index o0 ${index} ${bare ? '' : 'STRAIGHT_JOIN records r ON r.id = o0.record_id '}`
    : 'records r ';
  const own: Sql = along
    ? and([
        { sql: 'o0.type_id = ? AND o0.field_id = ? AND o0.part = 0', values: [typeIds[0], first.step] },
        ...(bare ? [] : [where]),
      ])
    : where;
  const ids: Sql = {
    sql: `SELECT ${id} AS id FROM ${from}${joins.map((j) => j.sql).join(' ')} WHERE ${own.sql} ORDER BY ${order} LIMIT ? OFFSET ?`,
    values: [
      ...joins.flatMap((j) => j.values),
      ...own.values,
      ...keys.flatMap((k) => k.values),
      Math.min(count, 1_000_000),
      offset,
    ],
  };
  const total: Sql = parts.length
    ? { sql: `SELECT COUNT(*) AS n FROM records r WHERE ${where.sql}`, values: where.values }
    : {
        sql: `SELECT COALESCE(SUM(c.n), 0) AS n FROM record_counts c WHERE c.type_id IN (?)${drafts ? '' : " AND c.status = 'published'"}`,
        values: [typeIds.length ? typeIds : ['']],
      };
  return { ids, count: total, whole };
}

/** Families that are ordered as text is collated; all others have a number to go by. */
const COLLATED = new Set(['text', 'link', 'colour', 'icon']);

function orderColumn({ path: { type }, step }: OrderKey): ((i: number) => Sql) | undefined {
  // Values of related records and counts are not in the index, and are left for memory.
  if (step === undefined) return undefined;
  if (COLLATED.has(type.kind.family)) return (i) => ({ sql: `o${i}.sort`, values: [] });
  if (step !== '@type') return (i) => ({ sql: `o${i}.number`, values: [] });
  const keys = (type.settings as { options: { key: string }[] }).options.map((option) => option.key);
  return (i) => ({ sql: `FIELD(o${i}.text, ?)`, values: [keys] });
}

/** The parts of a rule that the database can ask, joined by "and"; `left` says that something remains for memory. */
function conditions(
  rule: CompiledRule,
  loop: CompiledLoop,
  env: Env,
  drafts: boolean,
): { parts: Sql[]; left: boolean } {
  if (isGroup(rule.rule) && rule.rule.group === 'all') {
    const inner = rule.parts.map((part) => conditions(part, loop, env, drafts));
    return { parts: inner.flatMap((i) => i.parts), left: inner.some((i) => i.left) };
  }
  const whole = condition(rule, loop, env, drafts);
  return whole ? { parts: [whole], left: false } : { parts: [], left: true };
}

/** A rule as one condition, or undefined where any of it is beyond the database. */
function condition(rule: CompiledRule, loop: CompiledLoop, env: Env, drafts: boolean): Sql | undefined {
  if (!isGroup(rule.rule)) return testCondition(rule, loop, env, drafts);
  const parts = rule.parts.map((part) => condition(part, loop, env, drafts));
  if (parts.some((part) => !part)) return undefined;
  const all = parts as Sql[];
  if (!all.length) return { sql: 'TRUE', values: [] };
  const joined = {
    sql: all.map((p) => `(${p.sql})`).join(rule.rule.group === 'all' ? ' AND ' : ' OR '),
    values: all.flatMap((p) => p.values),
  };
  return rule.rule.group === 'none' ? { ...joined, sql: `NOT (${joined.sql})` } : { ...joined, sql: `(${joined.sql})` };
}

const INDEXED = new Set(['@title', '@type', '@status', '@created', '@changed', '@published']);

function testCondition(rule: CompiledRule, loop: CompiledLoop, env: Env, drafts: boolean): Sql | undefined {
  const own = `loop:${loop.id}`;
  const made = rule.test;
  if (!made) return { sql: rule.holds(env) ? 'TRUE' : 'FALSE', values: [] };
  const { test, operator, path } = made;
  // A test that never looks at the candidate has one answer for all of them.
  if (test.path.from !== own && test.other?.from !== own)
    return { sql: rule.holds(env) ? 'TRUE' : 'FALSE', values: [] };
  if (test.path.from !== own || test.other?.from === own || test.path.steps.length !== 1 || !operator.lookup)
    return undefined;
  const operand = made.operand(env);
  if (operand === undefined && operator.operand !== 'none')
    return { sql: operator.negative ? 'TRUE' : 'FALSE', values: [] };
  const lookup = operator.lookup(operand, env, path.type);
  if (!lookup) return undefined;
  const found = exists(lookup, test.path.steps[0] as string, loop.scope.typeIds, env.model, drafts);
  return found && (lookup.not ? { ...found, sql: `NOT ${found.sql}` } : found);
}

function exists(lookup: Lookup, step: string, typeIds: string[], model: ModelIndex, drafts: boolean): Sql | undefined {
  if (step.startsWith('@terms:')) return termsExist(lookup, step.slice('@terms:'.length));
  const field = model.field(step)?.field;
  const known = field && kindOf(field);
  if (known?.kind.family === 'relation')
    return linksExist(lookup, known.settings as { relationId: string; side: 'a' | 'b' }, drafts);
  if (lookup.by === 'member')
    return known?.many && known.kind.index
      ? members(
          lookup,
          'FROM record_index i WHERE i.record_id = r.id AND i.field_id = ? AND i.is_empty = FALSE',
          'i.text',
          [step],
        )
      : undefined;
  if (lookup.by !== 'presence' && !(known?.kind.index && !known.many) && !INDEXED.has(step)) return undefined;
  if (lookup.by === 'presence' && !known && !INDEXED.has(step)) return undefined;
  const inner = indexed(lookup);
  return (
    inner && {
      sql: `r.id IN (SELECT i.record_id FROM record_index i WHERE i.type_id IN (?) AND i.field_id = ? AND i.is_empty = FALSE${inner.sql})`,
      values: [typeIds.length ? typeIds : [''], step, ...inner.values],
    }
  );
}

/** `%`, `_` and the escape sign itself stand for themselves. */
const likePart = (text: string) => text.replace(/[!%_]/g, '!$&');

function indexed(lookup: Lookup): Sql | undefined {
  if (lookup.by === 'presence') return { sql: '', values: [] };
  if (lookup.by === 'number' && 'between' in lookup)
    return { sql: ' AND i.number BETWEEN ? AND ?', values: lookup.between };
  if (lookup.by === 'number') return { sql: ` AND i.number ${lookup.is} ?`, values: [lookup.value] };
  if (lookup.by !== 'text') return undefined;
  if ('in' in lookup) return { sql: ' AND i.text IN (?)', values: [lookup.in] };
  if ('is' in lookup) return { sql: ' AND i.text = ?', values: [lookup.value] };
  const part = likePart(lookup.has);
  const pattern = { start: `${part}%`, end: `%${part}`, anywhere: `%${part}%` }[lookup.at];
  return { sql: " AND i.text LIKE ? ESCAPE '!'", values: [pattern] };
}

/** The condition that some, or each, of `of` stands among the members that `from` gives. */
function members(lookup: Lookup, from: string, column: string, values: unknown[]): Sql | undefined {
  if (lookup.by === 'presence') return { sql: `EXISTS (SELECT 1 ${from})`, values };
  if (lookup.by !== 'member') return undefined;
  const of = [...new Set(lookup.of)];
  if (!of.length) return { sql: lookup.need === 'all' ? 'TRUE' : 'FALSE', values: [] };
  if (lookup.need === 'any') return { sql: `EXISTS (SELECT 1 ${from} AND ${column} IN (?))`, values: [...values, of] };
  return {
    sql: `(SELECT COUNT(DISTINCT ${column}) ${from} AND ${column} IN (?)) = ?`,
    values: [...values, of, of.length],
  };
}

const termsExist = (lookup: Lookup, taxonomyId: string) =>
  members(
    lookup,
    'FROM record_terms t JOIN terms x ON x.id = t.term_id WHERE t.record_id = r.id AND x.taxonomy_id = ?',
    't.term_id',
    [taxonomyId],
  );

function linksExist(
  lookup: Lookup,
  { relationId, side }: { relationId: string; side: 'a' | 'b' },
  drafts: boolean,
): Sql | undefined {
  const far = side === 'a' ? 'b' : 'a';
  const seen = drafts ? '' : " AND x.status = 'published'";
  return members(
    lookup,
    `FROM links l JOIN records x ON x.id = l.${far}_id${seen} WHERE l.relation_id = ? AND l.${side}_id = r.id`,
    `l.${far}_id`,
    [relationId],
  );
}
