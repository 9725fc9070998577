import { startOfDay } from '../../core/base/write';
import { wordsAsked } from '../../core/base/words';
import { daysOf, type ArchiveOf } from '../../core/addresses/archives';
import { leftOut } from '../../core/loops/evaluate';
import type { CompiledLoop } from '../../core/loops/compiled';
import { kindOf, relationOf } from '../../core/model/field';
import { isIndexed } from '../../core/model/kinds/kind';
import type { ModelIndex } from '../../core/model/model-index';
import type { Env } from '../../core/paths/env';
import type { CompiledRule } from '../../core/rules/compile';
import type { Lookup } from '../../core/rules/operators/operator';
import { isGroup } from '../../core/schema/rule';
import { always, and, likePart, listed, never, not, ofRecord, or, type Condition, type IndexTest } from './sql';
import { searchConditions, type Search, type Searcher } from './words';

/** Who reads: whether drafts are seen, and what searches found. */
export interface ListReader {
  drafts: boolean;
  found: Searcher;
}

export interface ListConditions {
  /** Type, status and everything else. */
  where: Condition;
  /** What there is beside type and status. */
  parts: Condition[];
  /** Some of the filter is left for memory. */
  left: boolean;
}

/** What the database can ask of candidates. */
export function whereOf(loop: CompiledLoop, env: Env, reader: ListReader): ListConditions {
  const { drafts } = reader;
  const { typeIds } = loop.scope;
  const base = [ofRecord('r.type_id IN (?)', listed(typeIds))];
  if (!drafts) base.push(ofRecord("r.status = 'published'"));
  const out = [...leftOut(loop, env)];
  const { parts: asked, left } = loop.filter ? conditions(loop.filter, loop, env, drafts) : { parts: [], left: false };
  const parts = [
    ...(loop.source.from === 'archive' && env.archive
      ? [...ofItsType(env.archive, typeIds), ...archiveConditions(env.archive, env.model, reader.found)]
      : []),
    ...asked,
    ...(loop.search ? searchConditions(within(loop.search, env.model), reader.found) : []),
    ...(out.length ? [{ on: (id: string) => `${id} NOT IN (?)`, values: [out] }] : []),
  ];
  return { where: and([...base, ...parts]), parts, left };
}

/** A search of what the model has. */
const within = (search: Search, { beside }: ModelIndex): Search =>
  beside?.fields.length ? { ...search, but: beside.fields } : search;

/** Where a template serves the archives of several types, each lists its own. */
const ofItsType = (of: ArchiveOf, typeIds: readonly string[]): Condition[] =>
  'typeId' in of && !(typeIds.length === 1 && typeIds[0] === of.typeId) ? [ofRecord('r.type_id = ?', of.typeId)] : [];

/** What an archive lists of the records of its types; see `inArchive`. */
function archiveConditions(of: ArchiveOf, model: ModelIndex, found: Searcher): Condition[] {
  switch (of.of) {
    case 'type':
    case 'front':
    case 'missing':
      return [];
    case 'term':
      return [
        {
          on: (id) => `EXISTS (SELECT 1 FROM record_terms t WHERE t.record_id = ${id} AND t.term_id IN (?))`,
          values: [model.below(of.termId)],
        },
      ];
    case 'author':
      return [ofRecord('r.author_id = ?', of.authorId)];
    case 'date': {
      const { timeZone } = model.site;
      const [from, until] = daysOf(of);
      return [
        ofRecord('r.published >= ? AND r.published < ?', startOfDay(from, timeZone), startOfDay(until, timeZone)),
      ];
    }
    case 'search':
      return searchConditions(within({ words: wordsAsked(of.words) }, model), found);
  }
}

/** The parts of a rule that the database can ask, joined by "and"; `left` says that something remains for memory. */
function conditions(
  rule: CompiledRule,
  loop: CompiledLoop,
  env: Env,
  drafts: boolean,
): { parts: Condition[]; left: boolean } {
  if (isGroup(rule.rule) && rule.rule.group === 'all') {
    const inner = rule.parts.map((part) => conditions(part, loop, env, drafts));
    return { parts: inner.flatMap((i) => i.parts), left: inner.some((i) => i.left) };
  }
  const whole = condition(rule, loop, env, drafts);
  return whole ? { parts: [whole], left: false } : { parts: [], left: true };
}

/** A rule as one condition, or undefined where any of it is beyond the database. */
function condition(rule: CompiledRule, loop: CompiledLoop, env: Env, drafts: boolean): Condition | undefined {
  if (!isGroup(rule.rule)) return testCondition(rule, loop, env, drafts);
  const parts = rule.parts.map((part) => condition(part, loop, env, drafts));
  if (parts.some((part) => !part)) return undefined;
  const all = parts as Condition[];
  if (!all.length) return always;
  switch (rule.rule.group) {
    case 'all':
      return and(all);
    case 'any':
      return or(all);
    case 'none':
      return not(or(all));
  }
}

/** Built-in values that have rows in the index. */
export const INDEXED = new Set(['@title', '@type', '@status', '@created', '@changed', '@published']);

function testCondition(rule: CompiledRule, loop: CompiledLoop, env: Env, drafts: boolean): Condition | undefined {
  const own = `loop:${loop.id}`;
  const made = rule.test;
  // What is asked of rows is asked in memory.
  if (rule.where) return undefined;
  if (rule.named) return condition(rule.parts[0] as CompiledRule, loop, env, drafts);
  if (!made) return rule.holds(env) ? always : never;
  const { test, operator, path } = made;
  // A test that never looks at the candidate has one answer for all of them.
  if (test.path.from !== own && test.other?.from !== own) return rule.holds(env) ? always : never;
  if (test.path.from !== own || test.other?.from === own || test.path.steps.length !== 1 || !operator.lookup)
    return undefined;
  const operand = made.operand(env);
  if (operand === undefined && operator.operand !== 'none') return operator.negative ? always : never;
  const lookup = operator.lookup(operand, env, path.type);
  if (!lookup) return undefined;
  const found = exists(lookup, test.path.steps[0] as string, loop.scope.typeIds, env.model, drafts);
  return found && (lookup.not ? not(found) : found);
}

function exists(
  lookup: Lookup,
  step: string,
  typeIds: string[],
  model: ModelIndex,
  drafts: boolean,
): Condition | undefined {
  if (step.startsWith('@terms:')) return termsExist(lookup, step.slice('@terms:'.length));
  const field = model.field(step)?.field;
  const known = field && kindOf(field);
  const relation = field && relationOf(field);
  const written = model.beside?.written;
  // Its values are not where they could be looked up.
  if (written?.has(step) && !written.get(step)) return undefined;
  if (relation) return linksExist(lookup, relation, drafts, model.beside?.types ?? []);
  if (lookup.by === 'member')
    return known?.many && isIndexed(known.kind)
      ? members(
          lookup,
          (id) =>
            `FROM record_index i WHERE i.record_id = ${id} AND i.type_id IN (?) AND i.field_id = ? AND i.is_empty = FALSE`,
          'i.text',
          [listed(typeIds), step],
        )
      : undefined;
  if (lookup.by !== 'presence' && !(known && isIndexed(known.kind) && !known.many) && !INDEXED.has(step))
    return undefined;
  if (lookup.by === 'presence' && !known && !INDEXED.has(step)) return undefined;
  const test =
    (known && !known.many && byNumber(lookup, { ...known, settings: written?.get(step) ?? known.settings })) ||
    indexed(lookup);
  return (
    test && {
      on: (id) =>
        `${id} IN (SELECT i.record_id FROM record_index i WHERE i.type_id IN (?) AND i.field_id = ? AND i.is_empty = FALSE AND ${test.on('i')})`,
      values: [listed(typeIds), step, ...test.values],
      rows: { step, test },
    }
  );
}

/** Keys that have a number too, such as a choice's place among its options, are looked up by that, which finds sooner. */
function byNumber(
  lookup: Lookup,
  { kind: { family }, settings }: NonNullable<ReturnType<typeof kindOf>>,
): IndexTest | undefined {
  const { number } = family.columns;
  if (!family.keyed || !number || lookup.by !== 'text' || 'has' in lookup) return undefined;
  const keys = 'in' in lookup ? lookup.in : [lookup.value];
  const places = keys.map((key) => number(key, settings)).filter((place) => place >= 0);
  return { on: (index) => `${index}.number IN (?)`, values: [places.length ? places : [-1]], byNumber: true };
}

/** What is asked of a row of the index whose value is not empty. */
function indexed(lookup: Lookup): IndexTest | undefined {
  if (lookup.by === 'presence') return { on: () => 'TRUE', values: [] };
  if (lookup.by === 'number' && 'between' in lookup)
    return { on: (index) => `${index}.number BETWEEN ? AND ?`, values: lookup.between, byNumber: true };
  if (lookup.by === 'number')
    return { on: (index) => `${index}.number ${lookup.is} ?`, values: [lookup.value], byNumber: true };
  if (lookup.by !== 'text') return undefined;
  if ('in' in lookup) return { on: (index) => `${index}.text IN (?)`, values: [lookup.in] };
  if ('is' in lookup) return { on: (index) => `${index}.text = ?`, values: [lookup.value] };
  const part = likePart(lookup.has);
  const pattern = { start: `${part}%`, end: `%${part}`, anywhere: `%${part}%` }[lookup.at];
  return { on: (index) => `${index}.text LIKE ? ESCAPE '!'`, values: [pattern] };
}

/** The condition that some, or each, of `of` stands among the members that `from` gives. */
function members(
  lookup: Lookup,
  from: (id: string) => string,
  column: string,
  values: unknown[],
): Condition | undefined {
  if (lookup.by === 'presence') return { on: (id) => `EXISTS (SELECT 1 ${from(id)})`, values };
  if (lookup.by !== 'member') return undefined;
  const of = [...new Set(lookup.of)];
  if (!of.length) return lookup.need === 'all' ? always : never;
  if (lookup.need === 'any')
    return { on: (id) => `EXISTS (SELECT 1 ${from(id)} AND ${column} IN (?))`, values: [...values, of] };
  return {
    on: (id) => `(SELECT COUNT(DISTINCT ${column}) ${from(id)} AND ${column} IN (?)) = ?`,
    values: [...values, of, of.length],
  };
}

const termsExist = (lookup: Lookup, taxonomyId: string) =>
  members(
    lookup,
    (id) => `FROM record_terms t JOIN terms x ON x.id = t.term_id WHERE t.record_id = ${id} AND x.taxonomy_id = ?`,
    't.term_id',
    [taxonomyId],
  );

function linksExist(
  lookup: Lookup,
  { relationId, side }: { relationId: string; side: 'a' | 'b' },
  drafts: boolean,
  others: readonly string[],
): Condition | undefined {
  const far = side === 'a' ? 'b' : 'a';
  const seen = (drafts ? '' : " AND x.status = 'published'") + (others.length ? ' AND x.type_id NOT IN (?)' : '');
  return members(
    lookup,
    (id) => `FROM links l JOIN records x ON x.id = l.${far}_id${seen} WHERE l.relation_id = ? AND l.${side}_id = ${id}`,
    `l.${far}_id`,
    [...(others.length ? [others] : []), relationId],
  );
}
