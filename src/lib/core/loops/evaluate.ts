import type { ContentRecord } from '../schema/record';
import type { Env, Iteration } from '../paths/env';
import type { Row, Thing, LoopList, FacetCount, FacetCounts } from '../paths/pool';
import { terms } from '../model/kinds/terms';
import { rowsOf } from '../paths/items';
import type { ValueType } from '../paths/scopes';
import type { CompiledRule } from '../rules/compile';
import { isGroup } from '../schema/rule';
import { fitOf, containsWords } from '../content/search';
import { takeOf } from '../paths/takes';
import { collationKey, compareText } from '../base/collation';
import { pageOf } from './loop';
import type { CompiledLoop } from './compiled';
import { searchOf } from './search';
import { filterDescription, wanted } from './visitors';

/** What a value is ordered by, as the index has it: a number, or text for the collation. */
export function orderKey(value: unknown, { kind: { family }, settings }: ValueType): number | string {
  const { number, sort } = family.columns;
  if (family.order === 'number' && number) return number(value, settings);
  return collationKey(sort?.(value, settings) ?? String(value));
}

/** Compares two of them, texts in the order of a language. */
export const compareKeys = (a: number | string, b: number | string, locale: string): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : compareText(String(a), String(b), locale);

/** A turn of a loop at one of its items. */
export const iterationAt = (
  loop: Pick<CompiledLoop, 'scope'>,
  item: Thing,
  position: number,
  results: number,
  search?: Iteration['search'],
): Iteration =>
  loop.scope.fields
    ? { row: item as Row, position, results }
    : { record: item as ContentRecord, position, results, ...(search && { search }) };

/** Runs `body` with an item as that of the loop, and puts back what stood there. */
function asItem<T>(loop: CompiledLoop, env: Env, item: Thing, body: () => T): T {
  const { depth } = loop.scope;
  const before = env.turns[depth];
  env.turns[depth] = iterationAt(loop, item, 0, 0);
  try {
    return body();
  } finally {
    env.turns[depth] = before;
  }
}

/** What is left of candidates after the loop's own leaving out, and after its filter. */
export function filterItems(loop: CompiledLoop, env: Env, items: readonly Thing[]): Thing[] {
  const { filter, search } = loop;
  const out = leftOut(loop, env);
  let kept = out.size ? items.filter((item) => !out.has((item as ContentRecord).id)) : [...items];
  if (search)
    kept = kept.filter((item) => containsWords(item as ContentRecord, search.words, search.fieldIds, env.model));
  return filter ? kept.filter((item) => asItem(loop, env, item, () => filter.holds(env))) : kept;
}

/** Ids of the records that a loop leaves out here: the page's own, and those that stand above. */
export function leftOut(loop: CompiledLoop, env: Env): ReadonlySet<number> {
  const { current, above } = loop.leaveOut;
  if (loop.scope.fields || (!current && !above)) return NONE;
  const out = new Set(above ? env.shown : []);
  if (current && env.record) out.add(env.record.id);
  return out;
}
const NONE: ReadonlySet<number> = new Set();

/**
 * Orders items by the loop's keys; empties last both ways, ties by record id. Without keys what is searched for comes in
 * the order of how well it fits, and everything else as it comes.
 */
export function orderItems(loop: CompiledLoop, env: Env, items: Thing[]): Thing[] {
  const search = loop.order.length ? undefined : searchOf(loop, env);
  if (search) {
    const fit = new Map(
      (items as ContentRecord[]).map((item) => [item, fitOf(item, search.words, search.fieldIds, env.model)]),
    );
    return (items as ContentRecord[]).sort((a, b) => (fit.get(b) ?? 0) - (fit.get(a) ?? 0) || a.id - b.id);
  }
  if (!loop.order.length) return items;
  const keyed = items.map((item) => ({
    item,
    keys: asItem(loop, env, item, () =>
      loop.order.map(({ path, take, type }) => {
        const read = path.read(env);
        const value = path.type.many ? takeOf(read as unknown[], take ?? 'first', path.type) : read;
        // Of one of each part, that which is the smallest or the largest of all.
        const one = Array.isArray(value) && take !== 'listed' ? value.at(take === 'largest' ? -1 : 0) : value;
        return one === undefined ? undefined : orderKey(one, type);
      }),
    ),
  }));
  const records = !loop.scope.fields;
  keyed.sort((a, b) => {
    for (const [i, { down }] of loop.order.entries()) {
      const left = a.keys[i];
      const right = b.keys[i];
      if (left === undefined && right === undefined) continue;
      if (left === undefined) return 1;
      if (right === undefined) return -1;
      const order = compareKeys(left, right, env.model.site.locale);
      if (order !== 0) return down ? -order : order;
    }
    // Rows have no ids, and stay as they come.
    return records ? (a.item as ContentRecord).id - (b.item as ContentRecord).id : 0;
  });
  return keyed.map(({ item }) => item);
}

/** Stands for a page that is no number from 1 on. */
export const NO_PAGE = 0;

/** The page that a loop is asked for: the archive's own, or what the address says of this loop. */
export function requestedPage(loop: CompiledLoop, env: Env): number {
  if (loop.source.from === 'archive') return env.archive?.page ?? 1;
  const asked = loop.pageKey ? filterDescription(loop.pageKey, env.asked)[0] : undefined;
  if (asked === undefined) return 1;
  return /^[1-9]\d{0,8}$/.test(asked) ? Number(asked) : NO_PAGE;
}

/** Filter, order, skip, limit and page over candidates in memory. */
export function evaluateLoop(loop: CompiledLoop, env: Env, candidates: readonly Thing[]): LoopList {
  const items = orderItems(loop, env, filterItems(loop, env, candidates));
  const { offset, count, total, page, pages } = pageOf(loop, items.length, requestedPage(loop, env));
  return { items: items.slice(offset, offset + count), total, page, pages };
}

/** How a list comes about: candidates, what was left out and what each test removed, and what skip and limit leave. */
export interface ListStory {
  candidates: number;
  leftOut: number;
  /** Removed by each part of the filter, one after the other; one entry where its parts are joined by any or none. */
  tests: { rule: CompiledRule; removed: number }[];
  found: number;
  total: number;
}

/** The parts of a loop's filter that remove records one after the other. */
export function testsOf({ filter }: Pick<CompiledLoop, 'filter'>): CompiledRule[] {
  if (!filter) return [];
  return isGroup(filter.rule) && filter.rule.group === 'all' ? filter.parts : [filter];
}

export function tellList(loop: CompiledLoop, env: Env): ListStory {
  const { filter } = loop;
  const bare: CompiledLoop = {
    ...loop,
    filter: undefined,
    order: [],
    skip: 0,
    limit: undefined,
    pageKey: undefined,
    // Counted, and none of it fetched but the first.
    perPage: 1,
    leaveOut: { current: false, above: false },
  };
  const count = (asked: Partial<CompiledLoop>): number =>
    env.pool.list({ ...bare, ...asked } as CompiledLoop, env).total;
  const candidates = count({});
  const { leaveOut } = loop;
  let left = leaveOut.current || leaveOut.above ? count({ leaveOut }) : candidates;
  const leftOut = candidates - left;
  const parts = testsOf(loop);
  const tests = parts.map((rule, i) => {
    const before = left;
    const upTo = parts.slice(0, i + 1);
    const all: CompiledRule = {
      rule: { group: 'all' as const, rules: upTo.map((part) => part.rule) },
      parts: upTo,
      problems: [],
      holds: (at) => upTo.every((part) => part.holds(at)),
    };
    left = count({ leaveOut, filter: parts.length > 1 ? all : filter });
    return { rule, removed: before - left };
  });
  return { candidates, leftOut, tests, found: left, total: pageOf(loop, left, 1).total };
}

/** What a loop goes over that is at hand where it stands; undefined where a list has to be asked for. */
export function itemsAt(loop: CompiledLoop, env: Env): Thing[] | undefined {
  const { source } = loop;
  switch (source.from) {
    case 'archive':
    case 'query':
      return undefined;
    case 'relation':
      return recordsOf(listOf(loop.values?.read(env)) as number[], env);
    case 'chosen':
      return recordsOf(source.ids, env);
    case 'values':
      return loop.values ? rowsOf(loop.values.type, listOf(loop.values.read(env)), env) : [];
    case 'terms':
      return rowsOf({ kind: terms }, termsOf(loop, env), env);
  }
}

const listOf = (value: unknown): unknown[] =>
  Array.isArray(value) ? (value as unknown[]) : value === undefined ? [] : [value];

/** Records in the order given, each once. */
const recordsOf = (ids: readonly number[], env: Env): ContentRecord[] =>
  [...new Set(ids)].map((id) => env.pool.record(id)).filter((record) => record !== undefined);

/** The terms of a taxonomy that a loop goes over: all, those at the top, or those right below the terms at a path. */
function termsOf(loop: CompiledLoop, env: Env): string[] {
  const { source } = loop;
  if (source.from !== 'terms') return [];
  const own = env.model.termsOf(source.taxonomyId);
  if (source.which === 'all') return own.map((term) => term.id);
  const parents: (string | null)[] = source.which === 'top' ? [null] : (listOf(loop.values?.read(env)) as string[]);
  return own.filter((term) => parents.includes(term.parentId)).map((term) => term.id);
}

/** Counts what each option of each facet would leave of these candidates. */
export function countFacets(loop: CompiledLoop, env: Env, candidates: readonly Thing[]): FacetCounts {
  const counts = new Map<string, FacetCount>();
  for (const { key, path } of loop.visitors?.facets ?? []) {
    const { type } = path;
    const items = filterItems(wanted(loop, env, key).loop, env, candidates);
    const options = new Map<string, number>();
    let [low, high] = [Infinity, -Infinity];
    for (const item of items) {
      const value = asItem(loop, env, item, () => path.read(env));
      const list = listOf(value);
      if (!list.length) continue;
      const { facet } = type.kind.family;
      if (facet?.by === 'answers') {
        for (const option of new Set(list.flatMap((one) => facet.keysOf(one, env.model))))
          options.set(option, (options.get(option) ?? 0) + 1);
        continue;
      }
      const at = orderKey(value, type) as number;
      low = Math.min(low, at);
      high = Math.max(high, at);
    }
    counts.set(key, low > high ? { options } : { options, low, high });
  }
  return counts;
}
