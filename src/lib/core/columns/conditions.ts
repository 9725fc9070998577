import { targetsIn } from '../model/settings';
import { TypedFastBitSet } from 'typedfastbitset';
import { startOfDay } from '../base/write';
import { queryWords } from '../base/words';
import { daysOf, type ArchiveOf } from '../addresses/archives';
import { leftOut } from '../loops/evaluate';
import { kindOf, relationOf } from '../model/field';
import { isIndexed } from '../model/kinds/kind';
import type { CompiledRule } from '../rules/compile';
import type { Lookup } from '../rules/operators/operator';
import { isGroup } from '../schema/rule';
import type { FilledColumn, ListColumn, NumberColumn, TextColumn } from './column';
import {
  columnAt,
  eachOf,
  INDEXED,
  linksStep,
  seenAt,
  tableOf,
  TERMS,
  type ListReading,
  type Reading,
  type Search,
} from './reading';
import { noRows, type Rows, type Table } from './table';
import { rowsWithWords } from './words';

/** What the reader sees of a table. */
export const seenOf = ({ drafts }: Pick<Reading, 'drafts'>, table: Table): Rows => (drafts ? table.here : table.shown);

/** Rows of a table that a question is about; `left` says that some of its filter has to be looked at record by record. */
export interface Candidates {
  /** Every row that the reader sees, where it is undefined. */
  rows?: Rows;
  left: boolean;
}

/** The rows of a table that may be on a list. */
export function candidates(reading: ListReading, table: Table): Candidates {
  const { loop, env } = reading;
  const parts: Rows[] = [];
  let left = false;
  if (loop.source.from === 'archive' && env.archive) {
    if ('typeId' in env.archive && env.archive.typeId !== table.typeId) return { rows: noRows(), left };
    const rows = ofArchive(reading, table, env.archive);
    if (rows) parts.push(rows);
  }
  if (loop.filter) {
    const asked = topConditions(loop.filter, reading, table);
    parts.push(...asked.parts);
    left = asked.left;
  }
  if (loop.search) parts.push(searched(reading, table, loop.search));
  const out = [...leftOut(loop, env)].flatMap((id) => table.rowOf(id) ?? []);
  if (!parts.length && !out.length) return { left };
  let rows = seenOf(reading, table);
  for (const part of parts) rows = rows.new_intersection(part);
  if (out.length) {
    rows = rows.clone();
    for (const row of out) rows.remove(row);
  }
  return { rows, left };
}

const searched = (reading: Reading, table: Table, search: Search): Rows =>
  table.keep(JSON.stringify(['search', search, reading.model.beside?.fields]), () =>
    rowsWithWords(reading, table, search),
  );

/** What an archive lists of the records of a type; see `inArchive`. */
function ofArchive(reading: Reading, table: Table, of: ArchiveOf): Rows | undefined {
  const { model } = reading;
  switch (of.of) {
    case 'type':
    case 'front':
    case 'missing':
      return undefined;
    case 'term':
      return rowsUnder(reading, table, model.below(of.termId));
    case 'author':
      return rowsBy(table, of.authorId);
    case 'date': {
      const [from, until] = daysOf(of).map((day) => startOfDay(day, model.site.timeZone).getTime()) as [number, number];
      const { keys } = columnAt<NumberColumn>(reading, table, 'number', '@published');
      return table.keep(`published ${from} ${until}`, () =>
        filtered(table, (row) => (keys[row] as number) >= from && (keys[row] as number) < until),
      );
    }
    case 'search': {
      const words = queryWords(of.words);
      return words.length ? searched(reading, table, { words }) : noRows();
    }
  }
}

/** Rows by an author. */
export const rowsBy = (table: Table, authorId: number): Rows =>
  table.keep(`author ${authorId}`, () => filtered(table, (row) => table.authors[row] === authorId));

/** Rows for which a test holds; what is gone may be among them. */
export function filtered(table: Table, holds: (row: number) => boolean): Rows {
  const words = new Uint32Array((table.size + 31) >>> 5);
  for (let row = 0; row < table.size; row++) if (holds(row)) words[row >>> 5]! |= 1 << (row & 31);
  return TypedFastBitSet.fromWords(words);
}

/** The parts of a rule that columns can answer, joined by "and"; `left` says that something remains for memory. */
function topConditions(rule: CompiledRule, reading: Reading, table: Table): { parts: Rows[]; left: boolean } {
  if (isGroup(rule.rule) && rule.rule.group === 'all') {
    const inner = eachOf(rule.parts, (part) => topConditions(part, reading, table));
    return { parts: inner.flatMap((i) => i.parts), left: inner.some((i) => i.left) };
  }
  const whole = matchingRows(rule, reading, table);
  return whole ? { parts: [whole], left: false } : { parts: [], left: true };
}

/** The rows for which a rule holds, or undefined where any of it is beyond columns; what is gone may be among them. */
export function matchingRows(rule: CompiledRule, reading: Reading, table: Table): Rows | undefined {
  if (!isGroup(rule.rule)) return testRows(rule, reading, table);
  const all = eachOf(rule.parts, (part) => matchingRows(part, reading, table));
  const parts = all.filter((rows) => rows !== undefined);
  if (parts.length < all.length) return undefined;
  if (!parts.length) return table.here;
  if (rule.rule.group === 'all') return parts.reduce((a, b) => a.new_intersection(b));
  const any = parts.reduce((a, b) => a.new_union(b));
  return rule.rule.group === 'any' ? any : table.here.new_difference(any);
}

function testRows(rule: CompiledRule, reading: Reading, table: Table): Rows | undefined {
  const { own, env } = reading;
  const made = rule.test;
  const constant = () => (rule.holds(env) ? table.here : noRows());
  // What is asked of rows is asked in memory.
  if (rule.where) return undefined;
  if (rule.named) return matchingRows(rule.parts[0] as CompiledRule, reading, table);
  if (!made) return constant();
  const { test, operator, path } = made;
  // A test that never looks at the candidate has one answer for all of them.
  if (test.path.from !== own && test.other?.from !== own) return constant();
  if (test.path.from !== own || test.other?.from === own || !operator.lookup) return undefined;
  const operand = made.operand(env);
  if (operand === undefined && operator.operand !== 'none') return operator.negative ? table.here : noRows();
  const lookup = operator.lookup(operand, env, path.type);
  if (!lookup) return undefined;
  const [step, next, ...more] = test.path.steps;
  if (step === undefined || more.length) return undefined;
  const rows =
    next === undefined ? found(lookup, step, reading, table) : foundBehind(lookup, step, next, reading, table);
  return rows && (lookup.not ? table.here.new_difference(rows) : rows);
}

/** Rows whose value, or some of whose values, is what is looked up; its `not` is the asker's. */
function found(lookup: Lookup, step: string, reading: Reading, table: Table): Rows | undefined {
  const { model } = reading;
  if (step.startsWith('@terms:')) return foundTerms(lookup, step.slice('@terms:'.length), reading, table);
  if (step === '@type') return isLookedUp(lookup, table.typeId) ? table.here : noRows();
  const entry = model.field(step);
  const known = entry && kindOf(entry.field);
  // A field of another type of the same list has no value here.
  if (entry && entry.type.id !== table.typeId) return noRows();
  const relation = entry && relationOf(entry.field);
  const written = model.beside?.written;
  // Its values are not where they could be looked up.
  if (written?.has(step) && !written.get(step)) return undefined;
  const name = (of: string) => JSON.stringify([of, step, lookup]);
  if (relation) {
    const { lists } = columnAt<ListColumn<number>>(
      reading,
      table,
      'numbers',
      linksStep(relation.relationId, relation.side),
    );
    const seen = seenAt(reading, targetsIn(known?.settings));
    const states = reading.model.types.map(({ id }) => tableOf(reading, id).state);
    return table.keep(`${name('links')} ${reading.drafts} ${states}`, () => member(lookup, table, lists, seen));
  }
  if (lookup.by === 'member') {
    if (!known?.many || !isIndexed(known.kind)) return undefined;
    const { lists } = columnAt<ListColumn<string>>(reading, table, 'texts', step);
    return table.keep(name('member'), () => member(lookup, table, lists) as Rows);
  }
  if (lookup.by === 'presence') {
    if (!known && !INDEXED.has(step)) return undefined;
    const { here } = columnAt<FilledColumn>(reading, table, 'filled', step);
    return table.keep(name('filled'), () => filtered(table, (row) => here[row] === 1));
  }
  if (!(known && isIndexed(known.kind) && !known.many) && !INDEXED.has(step)) return undefined;
  const settings = known && (written?.get(step) ?? known.settings);
  const { keyed, columns } = known?.kind.family ?? { keyed: false, columns: undefined };
  // Keys that have a number too, such as a choice's place among its options, are looked up by that, which finds sooner.
  if (lookup.by === 'text' && keyed && columns?.number && !('has' in lookup)) {
    const wanted = 'in' in lookup ? lookup.in : [lookup.value];
    const places = new Set(wanted.map((key) => columns.number?.(key, settings) ?? -1).filter((place) => place >= 0));
    const { keys } = columnAt<NumberColumn>(reading, table, 'number', step);
    return table.keep(name(`places ${[...places].join(' ')}`), () =>
      filtered(table, (row) => places.has(keys[row] as number)),
    );
  }
  if (lookup.by === 'number') {
    const { keys } = columnAt<NumberColumn>(reading, table, 'number', step);
    return table.keep(name('number'), () => filtered(table, numberTest(lookup, keys)));
  }
  const { texts } = columnAt<TextColumn>(reading, table, 'text', step);
  return table.keep(name('text'), () => {
    const holds = textTest(lookup);
    return filtered(table, (row) => {
      const text = texts[row];
      return typeof text === 'string' && holds(text);
    });
  });
}

function numberTest(lookup: Lookup & { by: 'number' }, keys: Float64Array): (row: number) => boolean {
  if ('between' in lookup) {
    const [from, to] = lookup.between;
    return (row) => (keys[row] as number) >= from && (keys[row] as number) <= to;
  }
  const { value } = lookup;
  switch (lookup.is) {
    case '=':
      return (row) => keys[row] === value;
    case '<':
      return (row) => (keys[row] as number) < value;
    case '<=':
      return (row) => (keys[row] as number) <= value;
    case '>':
      return (row) => (keys[row] as number) > value;
    case '>=':
      return (row) => (keys[row] as number) >= value;
  }
}

function textTest(lookup: Lookup & { by: 'text' }): (text: string) => boolean {
  if ('in' in lookup) {
    const wanted = new Set(lookup.in);
    return (text) => wanted.has(text);
  }
  if ('is' in lookup) return (text) => text === lookup.value;
  const { has, at } = lookup;
  if (at === 'start') return (text) => text.startsWith(has);
  return at === 'end' ? (text) => text.endsWith(has) : (text) => text.includes(has);
}

/** Whether one text that is there is what is looked up. */
function isLookedUp(lookup: Lookup, text: string): boolean {
  if (lookup.by === 'presence') return true;
  return lookup.by === 'text' && textTest(lookup)(text);
}

/** Rows some, or each, of whose members stand among those looked up; only members that are `seen` count. */
function member<Of extends number | string>(
  lookup: Lookup,
  table: Table,
  lists: readonly (readonly Of[] | undefined)[],
  seen: (one: Of) => boolean = () => true,
): Rows | undefined {
  if (lookup.by === 'presence') return filtered(table, (row) => lists[row]?.some(seen) ?? false);
  if (lookup.by !== 'member') return undefined;
  const of = new Set(lookup.of as Of[]);
  if (!of.size) return lookup.need === 'all' ? table.here : noRows();
  if (lookup.need === 'any')
    return filtered(table, (row) => lists[row]?.some((one) => of.has(one) && seen(one)) ?? false);
  return filtered(table, (row) => {
    const own = lists[row];
    if (!own) return false;
    return new Set(own.filter((one) => of.has(one) && seen(one))).size === of.size;
  });
}

function foundTerms(lookup: Lookup, taxonomyId: string, reading: Reading, table: Table): Rows | undefined {
  const { lists } = columnAt<ListColumn<string>>(reading, table, 'texts', TERMS);
  const own = new Set(reading.model.termsOf(taxonomyId).map(({ id }) => id));
  return table.keep(JSON.stringify(['terms', lookup, [...own]]), () =>
    member(lookup, table, lists, (one) => own.has(one)),
  );
}

/** Rows under any of these terms. */
export function rowsUnder(reading: Reading, table: Table, wanted: readonly string[]): Rows {
  const { lists } = columnAt<ListColumn<string>>(reading, table, 'texts', TERMS);
  return table.keep(JSON.stringify(['under', wanted]), () => {
    const of = new Set(wanted);
    return filtered(table, (row) => lists[row]?.some((one) => of.has(one)) ?? false);
  });
}

/** Rows whose one related record has a value that is looked up. */
function foundBehind(lookup: Lookup, step: string, next: string, reading: Reading, table: Table): Rows | undefined {
  const { model } = reading;
  const entry = model.field(step);
  const known = entry && kindOf(entry.field);
  const relation = entry && relationOf(entry.field);
  if (!relation || !known || known.many) return undefined;
  if (entry.type.id !== table.typeId) return noRows();
  const written = model.beside?.written;
  if (written?.has(step)) return undefined;
  const { lists } = columnAt<ListColumn<number>>(
    reading,
    table,
    'numbers',
    linksStep(relation.relationId, relation.side),
  );
  const typeIds = targetsIn(known.settings);
  const behind: { far: Table; rows: Rows }[] = [];
  for (const id of typeIds) {
    if (!model.type(id)) continue;
    const far = tableOf(reading, id);
    const rows = found(lookup, next, reading, far);
    if (!rows) return undefined;
    behind.push({ far, rows: rows.new_intersection(seenOf(reading, far)) });
  }
  const first = firstLink(reading, typeIds, lists);
  const name = ['behind', step, next, lookup, reading.drafts, behind.map(({ far }) => far.state)];
  return table.keep(JSON.stringify(name), () =>
    filtered(table, (row) => {
      const id = first(row);
      return (
        id !== undefined &&
        behind.some(({ far, rows }) => {
          const at = far.rowOf(id);
          return at !== undefined && rows.has(at);
        })
      );
    }),
  );
}

/** The record that a relation to one leads to from a row, whether the reader sees it or not. */
export function firstLink(
  reading: Reading,
  typeIds: readonly string[],
  lists: readonly (readonly number[] | undefined)[],
): (row: number) => number | undefined {
  // Records of types that only another model has are none.
  if (!reading.model.beside?.types.length) return (row) => lists[row]?.[0];
  const there = seenAt({ ...reading, drafts: true }, typeIds);
  return (row) => lists[row]?.find(there);
}
