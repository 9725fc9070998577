import { startOfDay } from '../../core/base/write';
import { leftOut, pageAsked } from '../../core/loops/evaluate';
import { pageOf } from '../../core/loops/loop';
import type { CompiledLoop, OrderKey } from '../../core/loops/compiled';
import { wanted } from '../../core/loops/visitors';
import { kindOf, relationOf } from '../../core/model/field';
import { isIndexed } from '../../core/model/kinds/kind';
import type { ModelIndex } from '../../core/model/model-index';
import type { Env } from '../../core/paths/env';
import type { CompiledRule } from '../../core/rules/compile';
import { isGroup } from '../../core/schema/rule';
import { wordsAsked } from '../../core/base/words';
import { daysOf, type ArchiveOf } from '../../core/addresses/archives';
import type { Lookup } from '../../core/rules/operators/operator';

/** A piece of SQL with the values of its question marks. */
interface Sql {
  sql: string;
  values: unknown[];
}

/** A condition; where it holds for the rows of one field in the index, also those, so that they can be counted alone. */
interface Asks extends Sql {
  rows?: { step: string; inner: Sql };
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

/** Who reads: whether drafts are seen, and what searches found. */
export interface Reader {
  drafts: boolean;
  found: Found;
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
export function listQuery(loop: CompiledLoop, env: Env, reader: Reader, window?: Window): ListQuery {
  const { drafts } = reader;
  const { typeIds } = loop.scope;
  const asked = whereOf(loop, env, reader);
  const { where, parts, left } = asked;
  const whole = !left && loop.order.every((key) => orderColumn(key) !== undefined);
  if (!whole)
    return {
      ids: {
        sql: `SELECT r.id AS id FROM records r WHERE ${where.sql} ORDER BY r.id LIMIT 1000000`,
        values: where.values,
      },
      whole,
    };

  const { offset, count } = window ?? pageOf(loop, Infinity, pageAsked(loop, env));
  const part = { offset, count: Math.min(count, 1_000_000) };
  const [first] = loop.order;
  const ids =
    first?.step !== undefined && typeIds.length === 1 && !window?.narrow
      ? alongIndex(loop, asked, drafts, part)
      : throughRecords(loop, where, part);
  // Without pages, how many there are follows from what comes.
  if (!loop.perPage && !window) return { ids, whole };
  const total: Sql = parts.length
    ? counting(loop, asked, drafts)
    : {
        sql: `SELECT COALESCE(SUM(c.n), 0) AS n FROM record_counts c WHERE c.type_id IN (?)${drafts ? '' : " AND c.status = 'published'"}`,
        values: [typeIds.length ? typeIds : ['']],
      };
  return { ids, count: total, whole };
}

/**
 * How many records there are: along the rows of one field where some condition holds for these, else record by record. A
 * value of several has a row for each, of which the first stands for the record.
 */
function counting(loop: CompiledLoop, { parts, where }: Asked, drafts: boolean): Sql {
  const along = parts.find((part) => part.rows)?.rows;
  if (!along) return { sql: `SELECT COUNT(*) AS n FROM records r WHERE ${where.sql}`, values: where.values };
  const others = parts.filter((part) => part.rows !== along);
  const { typeIds } = loop.scope;
  const { sql, records } = onKey(and(others).sql, 'c0.record_id');
  return {
    sql: `SELECT COUNT(*) AS n FROM record_index c0 ${along.inner.sql.includes('i.number') ? 'FORCE INDEX (numbers)' : ''} ${records ? 'JOIN records r ON r.id = c0.record_id' : ''} WHERE c0.type_id IN (?) AND c0.field_id = ? AND c0.shown ${drafts ? 'IN (TRUE, FALSE)' : '= TRUE'} AND c0.is_empty = FALSE AND c0.part = 0${along.inner.sql.replaceAll('i.', 'c0.')} AND ${sql}`,
    values: [
      ...[typeIds.length ? typeIds : [''], along.step],
      ...along.inner.values,
      ...others.flatMap((part) => part.values),
    ],
  };
}

/** What one key of the order is in SQL, and whether it is empty. */
function orderKeys(loop: CompiledLoop, along: boolean): (Sql & { empty: string; down: boolean })[] {
  return loop.order.map((key, i) => ({
    ...(orderColumn(key) as (i: number) => Sql)(i),
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
function throughRecords(loop: CompiledLoop, where: Sql, { offset, count }: Window): Sql {
  const joins = loop.order.map((key, i) => joinOf(key, i, 'r.id'));
  const keys = orderKeys(loop, false);
  const order = [...keys.map((key) => `${key.empty}, ${key.sql}${key.down ? ' DESC' : ''}`), 'r.id'].join(', ');
  return {
    sql: `SELECT r.id AS id FROM records r ${joins.map((j) => j.sql).join(' ')} WHERE ${where.sql} ORDER BY ${order} LIMIT ? OFFSET ?`,
    values: [...joins.flatMap((j) => j.values), ...where.values, ...keys.flatMap((k) => k.values), count, offset],
  };
}

/**
 * A list of one type, read along the index of its first order key, which has what visitors see apart from drafts. With
 * drafts both are read and put together. Records are looked at only where a condition asks for more than their id.
 */
function alongIndex(loop: CompiledLoop, asked: Asked, drafts: boolean, { offset, count }: Window): Sql {
  const [first, ...others] = loop.order as [OrderKey, ...OrderKey[]];
  const joins = others.map((key, i) => joinOf(key, i + 1, 'o0.record_id'));
  const keys = orderKeys(loop, true);
  const where = and(asked.parts);
  const { sql: plain, records } = onKey(where.sql, 'o0.record_id');
  // Several indexes begin alike; only this one has the rows in the order that is asked for.
  const index =
    first.step === '@type'
      ? ''
      : `FORCE INDEX (${first.path.type.kind.family.order === 'sort' ? 'sorts' : 'numbers'}${first.down ? '_down' : ''})`;
  const down = (key: { down: boolean }) => (key.down ? ' DESC' : '');
  const order = [...keys.map((key) => `${key.empty}, ${key.sql}${down(key)}`), 'o0.record_id'].join(', ');
  const part = (shown: boolean, columns: string, own: Window): Sql => ({
    sql: `SELECT o0.record_id AS id${columns} FROM record_index o0 ${index} ${records ? 'STRAIGHT_JOIN records r ON r.id = o0.record_id' : ''} ${joins.map((j) => j.sql).join(' ')} WHERE o0.type_id = ? AND o0.field_id = ? AND o0.shown = ${shown ? 'TRUE' : 'FALSE'} AND o0.part = 0 AND ${plain} ORDER BY ${order} LIMIT ? OFFSET ?`,
    values: [
      ...(columns ? keys.flatMap((k) => k.values) : []),
      ...joins.flatMap((j) => j.values),
      ...[loop.scope.typeIds[0], first.step],
      ...where.values,
      ...keys.flatMap((k) => k.values),
      ...[own.count, own.offset],
    ],
  });
  if (!drafts) return part(true, '', { offset, count });
  const columns = keys.map((key, i) => `, ${key.empty} AS e${i}, ${key.sql} AS k${i}`).join('');
  const upTo = { offset: 0, count: offset + count };
  const [published, hidden] = [part(true, columns, upTo), part(false, columns, upTo)];
  return {
    sql: `SELECT u.id AS id FROM ((${published.sql}) UNION ALL (${hidden.sql})) u ORDER BY ${keys.map((key, i) => `u.e${i}, u.k${i}${down(key)}`).join(', ')}, u.id LIMIT ? OFFSET ?`,
    values: [...published.values, ...hidden.values, count, offset],
  };
}

interface Asked {
  /** Type, status and everything else. */
  where: Sql;
  /** What there is beside type and status. */
  parts: Asks[];
  /** Some of the filter is left for memory. */
  left: boolean;
}

/** What the database can ask of candidates. */
function whereOf(loop: CompiledLoop, env: Env, reader: Reader): Asked {
  const { drafts } = reader;
  const { typeIds } = loop.scope;
  const base: Sql[] = [{ sql: 'r.type_id IN (?)', values: [typeIds.length ? typeIds : ['']] }];
  if (!drafts) base.push({ sql: "r.status = 'published'", values: [] });
  const out = [...leftOut(loop, env)];
  const { parts: asked, left } = loop.filter ? conditions(loop.filter, loop, env, drafts) : { parts: [], left: false };
  const parts = [
    ...(loop.source.from === 'archive' && env.archive
      ? [...ofItsType(env.archive, typeIds), ...archiveConditions(env.archive, env.model, reader.found)]
      : []),
    ...asked,
    ...(loop.search ? searchConditions(loop.search, reader.found) : []),
    ...(out.length ? [{ sql: 'r.id NOT IN (?)', values: [out] }] : []),
  ];
  return { where: and([...base, ...parts]), parts, left };
}

/** Where a template serves the archives of several types, each lists its own. */
const ofItsType = (of: ArchiveOf, typeIds: readonly string[]): Sql[] =>
  'typeId' in of && !(typeIds.length === 1 && typeIds[0] === of.typeId)
    ? [{ sql: 'r.type_id = ?', values: [of.typeId] }]
    : [];

/** What an archive lists of the records of its types; see `inArchive`. */
function archiveConditions(of: ArchiveOf, model: ModelIndex, found: Found): Sql[] {
  switch (of.of) {
    case 'type':
    case 'front':
    case 'missing':
      return [];
    case 'term':
      return [
        {
          sql: 'EXISTS (SELECT 1 FROM record_terms t WHERE t.record_id = r.id AND t.term_id IN (?))',
          values: [model.below(of.termId)],
        },
      ];
    case 'author':
      return [{ sql: 'r.author_id = ?', values: [of.authorId] }];
    case 'date': {
      const { timeZone } = model.site;
      const [from, until] = daysOf(of);
      return [
        {
          sql: 'r.published >= ? AND r.published < ?',
          values: [startOfDay(from, timeZone), startOfDay(until, timeZone)],
        },
      ];
    }
    case 'search':
      return searchConditions({ words: wordsAsked(of.words) }, found);
  }
}

/** Searches that find more records than this are asked of each record instead. */
export const MOST_FOUND = 20_000;

/**
 * What a search finds: ids of the records, of any type and status, that have each word at the beginning of a word in some
 * of these fields, or in any. The longest word is asked of the full text index, being the rarest as a rule; the others are
 * looked for in what that finds. Words are letters, digits and `_` alone.
 */
export function searchQuery({ words, fieldIds }: Search): Sql {
  const [longest, ...others] = [...words].sort((a, b) => b.length - a.length);
  const { sql, values } = ofFields(fieldIds);
  const rest = others.map((word) => hasWord(word, fieldIds, 'w.record_id'));
  return {
    sql: `SELECT DISTINCT w.record_id AS id FROM record_words w WHERE MATCH (w.words) AGAINST (? IN BOOLEAN MODE)${sql} AND ${and(rest).sql} LIMIT ${MOST_FOUND + 1}`,
    values: [`+${longest}*`, ...values, ...rest.flatMap((one) => one.values)],
  };
}

/** Words and the fields they are searched in; every field without. */
export interface Search {
  words: readonly string[];
  fieldIds?: readonly string[];
}
/** What a search found, by its words and fields; `many` for too many to name. */
export type Found = (search: Search) => readonly number[] | 'many';

const ofFields = (fieldIds?: readonly string[]): Sql =>
  fieldIds
    ? { sql: ' AND w.field_id IN (?)', values: [fieldIds.length ? [...fieldIds] : ['']] }
    : { sql: '', values: [] };

function hasWord(word: string, fieldIds: readonly string[] | undefined, id: string): Sql {
  const { sql, values } = ofFields(fieldIds);
  const own = sql.replaceAll('w.', 'v.');
  return {
    sql: `EXISTS (SELECT 1 FROM record_words v WHERE v.record_id = ${id}${own} AND CONCAT(' ', v.words) LIKE ? ESCAPE '!')`,
    values: [...values, `% ${likePart(word)}%`],
  };
}

function searchConditions(search: Search, found: Found): Sql[] {
  if (!search.words.length) return [{ sql: 'FALSE', values: [] }];
  const ids = found(search);
  if (ids === 'many') return search.words.map((word) => hasWord(word, search.fieldIds, 'r.id'));
  return [ids.length ? { sql: 'r.id IN (?)', values: [[...ids]] } : { sql: 'FALSE', values: [] }];
}

/** One count of what visitors may choose; `option` is '' for the ends of a range. */
export interface FacetRow {
  facet: number;
  option: string;
  n: number;
  low: number | null;
  high: number | null;
}

/** Counts all that visitors may choose of a loop, as one statement; undefined where some of it is left for memory. */
export function facetQuery(loop: CompiledLoop, env: Env, reader: Reader): Sql | undefined {
  const { drafts } = reader;
  const all: Sql[] = [];
  for (const [at, facet] of (loop.visitors?.facets ?? []).entries()) {
    const asked = whereOf(wanted(loop, env, facet.key).loop, env, reader);
    if (asked.left) return undefined;
    const select = (option: string, count: string, more: string) =>
      `SELECT ${at} AS facet, CONVERT(${option} USING utf8mb4) COLLATE utf8mb4_nopad_bin AS \`option\`, ${count} AS n, ${more}`;
    const { type } = facet.path;
    if (type.kind.family.facet?.by !== 'answers' || type.kind.family.facet.counted !== 'terms') {
      const { sql, values } = ofIndex(facet.step, loop, asked, drafts);
      if (facet.range)
        all.push({ sql: `${select("''", 'COUNT(*)', 'MIN(f.number) AS low, MAX(f.number) AS high')} ${sql}`, values });
      else {
        // All but content types have a number by which the index alone tells them apart.
        const option = facet.step === '@type' ? 'f.text' : 'f.number';
        all.push({
          sql: `${select(option, 'COUNT(*)', 'NULL AS low, NULL AS high')} ${sql} GROUP BY ${option}`,
          values,
        });
      }
      continue;
    }
    const { taxonomyId } = type.settings as { taxonomyId: string };
    // Each term with every term above it, so that a record counts once for each.
    const pairs = env.model.termsOf(taxonomyId).flatMap(({ id }) => env.model.above(id).map((above) => [above, id]));
    if (!pairs.length) continue;
    const spread = pairs.map(() => 'SELECT ? AS above, ? AS term').join(' UNION ALL ');
    all.push({
      sql: `${select('c.above', 'COUNT(DISTINCT t.record_id)', 'NULL AS low, NULL AS high')} FROM record_terms t STRAIGHT_JOIN records r ON r.id = t.record_id STRAIGHT_JOIN (${spread}) c ON c.term = t.term_id WHERE t.term_id IN (?) AND ${asked.where.sql} GROUP BY c.above`,
      values: [...pairs.flat(), [...new Set(pairs.map(([, term]) => term))], ...asked.where.values],
    });
  }
  if (!all.length) return undefined;
  return { sql: all.map(({ sql }) => `(${sql})`).join(' UNION ALL '), values: all.flatMap((one) => one.values) };
}

/** The index rows of one field of what is asked for, as `f`; records are looked at only where a condition needs them. */
function ofIndex(step: string, loop: CompiledLoop, asked: Asked, drafts: boolean): Sql {
  const { typeIds } = loop.scope;
  const where = and(asked.parts);
  const { sql, records } = onKey(where.sql, 'f.record_id');
  const shown = drafts ? 'f.shown IN (TRUE, FALSE)' : 'f.shown = TRUE';
  return {
    sql: `FROM record_index f ${step === '@type' ? '' : 'FORCE INDEX (numbers)'} ${records ? 'JOIN records r ON r.id = f.record_id' : ''} WHERE f.type_id IN (?) AND f.field_id = ? AND ${shown} AND f.is_empty = FALSE AND ${sql}`,
    values: [typeIds.length ? typeIds : [''], step, ...where.values],
  };
}

/** Conditions on a record asked of another column with its id, and whether they want more of it than that. */
function onKey(sql: string, key: string): { sql: string; records: boolean } {
  const own = sql.replaceAll('r.id', key);
  return { sql: own, records: /\br\.(?!id\b)/.test(sql) };
}

function orderColumn({ path: { type }, step }: OrderKey): ((i: number) => Sql) | undefined {
  // Values of related records, counts and some built-in values are not in the index, and are left for memory.
  if (step === undefined || (step.startsWith('@') && !INDEXED.has(step))) return undefined;
  if (type.kind.family.order === 'sort') return (i) => ({ sql: `o${i}.sort`, values: [] });
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
): { parts: Asks[]; left: boolean } {
  if (isGroup(rule.rule) && rule.rule.group === 'all') {
    const inner = rule.parts.map((part) => conditions(part, loop, env, drafts));
    return { parts: inner.flatMap((i) => i.parts), left: inner.some((i) => i.left) };
  }
  const whole = condition(rule, loop, env, drafts);
  return whole ? { parts: [whole], left: false } : { parts: [], left: true };
}

/** A rule as one condition, or undefined where any of it is beyond the database. */
function condition(rule: CompiledRule, loop: CompiledLoop, env: Env, drafts: boolean): Asks | undefined {
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

function testCondition(rule: CompiledRule, loop: CompiledLoop, env: Env, drafts: boolean): Asks | undefined {
  const own = `loop:${loop.id}`;
  const made = rule.test;
  // What is asked of rows is asked in memory.
  if (rule.where) return undefined;
  if (rule.named) return condition(rule.parts[0] as CompiledRule, loop, env, drafts);
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
  return found && (lookup.not ? { sql: `NOT ${found.sql}`, values: found.values } : found);
}

function exists(lookup: Lookup, step: string, typeIds: string[], model: ModelIndex, drafts: boolean): Asks | undefined {
  if (step.startsWith('@terms:')) return termsExist(lookup, step.slice('@terms:'.length));
  const field = model.field(step)?.field;
  const known = field && kindOf(field);
  const relation = field && relationOf(field);
  if (relation) return linksExist(lookup, relation, drafts);
  if (lookup.by === 'member')
    return known?.many && isIndexed(known.kind)
      ? members(
          lookup,
          'FROM record_index i WHERE i.record_id = r.id AND i.type_id IN (?) AND i.field_id = ? AND i.is_empty = FALSE',
          'i.text',
          [typeIds.length ? typeIds : [''], step],
        )
      : undefined;
  if (lookup.by !== 'presence' && !(known && isIndexed(known.kind) && !known.many) && !INDEXED.has(step))
    return undefined;
  if (lookup.by === 'presence' && !known && !INDEXED.has(step)) return undefined;
  const inner = (known && !known.many && byNumber(lookup, known)) || indexed(lookup);
  return (
    inner && {
      sql: `r.id IN (SELECT i.record_id FROM record_index i WHERE i.type_id IN (?) AND i.field_id = ? AND i.is_empty = FALSE${inner.sql})`,
      values: [typeIds.length ? typeIds : [''], step, ...inner.values],
      rows: { step, inner },
    }
  );
}

/** Keys that have a number too, such as a choice's place among its options, are looked up by that, which finds sooner. */
function byNumber(
  lookup: Lookup,
  { kind: { family }, settings }: NonNullable<ReturnType<typeof kindOf>>,
): Sql | undefined {
  const { number } = family.columns;
  if (!family.keyed || !number || lookup.by !== 'text' || 'has' in lookup) return undefined;
  const keys = 'in' in lookup ? lookup.in : [lookup.value];
  const places = keys.map((key) => number(key, settings)).filter((place) => place >= 0);
  return { sql: ' AND i.number IN (?)', values: [places.length ? places : [-1]] };
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
