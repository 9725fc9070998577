import type { FilterChoice } from '../model/family';
import type { Facet, Visitors, CompiledLoop } from './compiled';
import type { VisitorSettings } from '../schema/loop';
import type { Field } from '../model/model';
import type { ModelIndex } from '../model/model-index';
import { compilePath } from '../paths/compile';
import type { Env } from '../paths/env';
import type { Scopes, ValueType } from '../paths/scopes';
import { problem, type Problem } from '../base/result';
import type { CompiledRule } from '../rules/compile';
import { operatorNamed } from '../rules/operators';
import { outcome, type Operator } from '../rules/operators/operator';
import type { Test } from '../schema/rule';
import { isSearched } from '../content/search';
import { LONGEST_SEARCH, MOST_WORDS, queryWords, searchWords } from '../base/words';
import { slugOf } from '../base/text';

/** Whether visitors can filter by values of this type, and why not. */
export const noFacet = ({ kind: { family }, many }: Pick<ValueType, 'kind' | 'many'>): string | undefined =>
  family.facet && !(family.facet.by === 'range' && many)
    ? undefined
    : 'Visitors filter by terms, choices, yes or no, numbers and dates.';

/** The fields that a search may look into, of records of these types. */
export const searchedFields = (typeIds: readonly string[], model: ModelIndex): Field[] =>
  typeIds.flatMap((id) => model.type(id)?.fields.filter(isSearched) ?? []);

/** The longest end of a range that is read. */
const LONGEST_END = 60;

const plainKey = (label: string, fallback: string): string => slugOf(label).replace(/[^a-z0-9-]/g, '') || fallback;

/**
 * Makes ready what visitors may choose. `prefix` goes before each key, so that two lists of a page keep apart; a key
 * that is taken, by another or by the search and the order, gets a number.
 */
export function compileVisitors(
  settings: VisitorSettings,
  loopId: string,
  prefix: string,
  inside: Scopes,
  typeIds: readonly string[],
  model: ModelIndex,
): { visitors: Visitors; problems: Problem[] } {
  const problems: Problem[] = [];
  const [searchKey, sortKey] = [`${prefix}q`, `${prefix}sort`];
  const taken = new Set([searchKey, sortKey, `${prefix}page`]);
  const free = (wanted: string): string => {
    let key = wanted;
    for (let n = 2; [key, `${key}-from`, `${key}-to`].some((one) => taken.has(one)); n++) key = `${wanted}-${n}`;
    for (const one of [key, `${key}-from`, `${key}-to`]) taken.add(one);
    return key;
  };
  const read = (step: string, at: string) => {
    const path = compilePath({ from: `loop:${loopId}`, steps: [step] }, inside, model);
    if (!path.ok) problems.push({ ...(path.problems[0] as Problem), at });
    return path.ok ? path.value : undefined;
  };

  const facets: Facet[] = [];
  for (const [i, { step, label }] of settings.facets.entries()) {
    const path = read(step, `visitors.facets.${i}`);
    if (!path) continue;
    const wrong = noFacet(path.type);
    if (wrong) problems.push(problem(`visitors.facets.${i}`, `${path.type.label}: ${wrong}`, 'Choose another field.'));
    const words = label || path.type.label;
    if (!wrong)
      facets.push({
        key: free(prefix + plainKey(words, `choice-${i + 1}`)),
        label: words,
        step,
        path,
        range: path.type.kind.family.facet?.by === 'range',
      });
  }
  const sorts: Visitors['sorts'] = [];
  const names = new Set<string>();
  for (const [i, { step, label, down }] of settings.sorts.entries()) {
    const path = read(step, `visitors.sorts.${i}`);
    if (!path) continue;
    if (path.type.many) {
      problems.push(problem(`visitors.sorts.${i}`, `${path.type.label} has no order.`, 'Choose another field.'));
      continue;
    }
    const words = label || path.type.label;
    let key = plainKey(words, `order-${i + 1}`);
    while (names.has(key)) key += down ? '-down' : '-2';
    names.add(key);
    sorts.push({ key, label: words, order: { path, type: path.type, step, down } });
  }
  const here = new Set(['@title', ...searchedFields(typeIds, model).map((field) => field.id)]);
  const gone = settings.search.filter((id) => !here.has(id));
  if (gone.length)
    problems.push(
      problem(
        'visitors.search',
        'A field that visitors search in is not among these records.',
        'Choose the fields anew.',
      ),
    );
  const search = settings.search.filter((id) => here.has(id));
  return { visitors: { searchKey, search, facets, sortKey, sorts }, problems };
}

/** The keys of a question about a list, all that it understands. */
export const keysOf = ({ searchKey, search, sortKey, sorts, facets }: Visitors): string[] => [
  ...(search.length ? [searchKey] : []),
  ...(sorts.length ? [sortKey] : []),
  ...facets.flatMap(({ key, range }) => (range ? [`${key}-from`, `${key}-to`] : [key])),
];

/** What of a facet is asked for: options, or a range with text as it stood in the address. */
interface Chosen {
  options: string[];
  from: string;
  to: string;
}

/** What a visitor asks of a list: the list with it, what was chosen, and what could not be taken, in words. */
export interface Wanted {
  loop: CompiledLoop;
  search: string;
  chosen: ReadonlyMap<string, Chosen>;
  sort?: string;
  refused: string[];
  /** Something is chosen or searched for. */
  any: boolean;
}

const wantedFor = new WeakMap<object, Map<string, Wanted>>();

/** What this page's address asks of a loop. `without` leaves one facet out, so that its own options can be counted. */
export function wanted(loop: CompiledLoop, env: Env, without?: string): Wanted {
  const { visitors } = loop;
  const { asked } = env;
  if (!visitors || !asked) return { loop, search: '', chosen: new Map(), refused: [], any: false };
  let kept = wantedFor.get(asked);
  if (!kept) wantedFor.set(asked, (kept = new Map<string, Wanted>()));
  const key = `${loop.id}\n${without ?? ''}`;
  const known = kept.get(key);
  // The same question may be put to a loop that has changed since, while designing.
  if (known && (known.loop === loop || known.loop.asked === loop)) return known;
  const made = wantedOf(loop, visitors, asked, env, without);
  kept.set(key, made);
  return made;
}

function wantedOf(
  loop: CompiledLoop,
  visitors: Visitors,
  asked: NonNullable<Env['asked']>,
  env: Env,
  without: string | undefined,
): Wanted {
  const refused: string[] = [];
  const chosen = new Map<string, Chosen>();
  const rules: CompiledRule[] = [];
  for (const facet of visitors.facets) {
    const one = chosenOf(facet, asked, env, refused);
    if (!one) continue;
    chosen.set(facet.key, one);
    if (facet.key !== without) rules.push(...rulesOf(facet, one, env));
  }
  const said = visitors.search.length ? (filterDescription(visitors.searchKey, asked)[0] ?? '').trim() : '';
  const search = [...said].slice(0, LONGEST_SEARCH).join('');
  if (search !== said) refused.push(`A search has ${LONGEST_SEARCH} characters at most; the rest was left out.`);
  else if (searchWords(search).length > MOST_WORDS)
    refused.push(`A search looks for ${MOST_WORDS} words at most; the rest was left out.`);
  const words = queryWords(search);
  if (search && !words.length) refused.push('There is no word to search for in this.');
  const named = visitors.sorts.length ? filterDescription(visitors.sortKey, asked)[0] : undefined;
  const sort = visitors.sorts.find((one) => one.key === named);
  if (named && !sort) refused.push(`There is no order “${named.slice(0, 60)}”.`);
  const any = chosen.size > 0 || search !== '';
  if (!any && !sort) return { loop, search, chosen, refused, any };
  return {
    loop: {
      ...loop,
      asked: loop,
      filter: rules.length ? all([...(loop.filter ? [loop.filter] : []), ...rules]) : loop.filter,
      search: words.length ? { words, fieldIds: visitors.search } : undefined,
      order: sort ? [sort.order, ...loop.order] : loop.order,
    },
    search,
    chosen,
    sort: sort?.key,
    refused,
    any,
  };
}

/** What is chosen of one facet, or undefined. What is not among its options is told in `refused`. */
function chosenOf(facet: Facet, asked: NonNullable<Env['asked']>, env: Env, refused: string[]): Chosen | undefined {
  const { key, label, path } = facet;
  const { facet: how } = path.type.kind.family;
  if (how?.by === 'range') {
    const end = (name: string): string => {
      const text = (filterDescription(`${key}-${name}`, asked)[0] ?? '').trim().slice(0, LONGEST_END);
      const fits = how.takes(text);
      if (text && !fits) refused.push(`${label}: “${text.slice(0, 40)}” is no ${how.example}.`);
      return fits ? text : '';
    };
    const [from, to] = [end('from'), end('to')];
    return from || to ? { options: [], from, to } : undefined;
  }
  const options: string[] = [];
  for (const value of filterDescription(key, asked).filter(Boolean).slice(0, 100)) {
    const option = optionAt(value, path.type, env.model);
    if (option === undefined) refused.push(`${label}: there is no “${value.slice(0, 40)}” to choose.`);
    else if (!options.includes(option)) options.push(option);
  }
  return options.length ? { options, from: '', to: '' } : undefined;
}

/** The answer that stands under a word in an address; terms stand under their part of addresses. */
const optionAt = (word: string, type: ValueType, model: ModelIndex): string | undefined =>
  filterChoicesOf(type, model).find((answer) => answer.word === word)?.key;

/** The few answers that a value may be. */
export const filterChoicesOf = ({ kind, settings }: ValueType, model: ModelIndex): FilterChoice[] =>
  kind.family.answers?.(settings, model) ?? [];

const NO_RULE = { group: 'all' as const, rules: [] };
const all = (parts: CompiledRule[]): CompiledRule => ({
  rule: NO_RULE,
  parts,
  problems: [],
  holds: (env) => parts.every((part) => part.holds(env)),
});

/** One test of a facet's value, with an operand that has been checked already. */
function testOf(name: string, { path }: Facet, operand: unknown): CompiledRule {
  const operator = operatorNamed(name) as Operator;
  const { type } = path;
  const prepared = operator.prepare && operand !== undefined ? operator.prepare(operand, type) : operand;
  const test: Test = { test: name, path: path.path, ...(operand === undefined ? {} : { operand }) };
  const holds = (env: Env): boolean => outcome(operator, path.read(env), prepared, env, type);
  return { rule: test, parts: [], problems: [], holds, test: { test, operator, path, operand: () => prepared, holds } };
}

function rulesOf(facet: Facet, { options, from, to }: Chosen, env: Env): CompiledRule[] {
  const { kind, many } = facet.path.type;
  const how = kind.family.facet;
  const { site } = env.model;
  const tests = !how
    ? []
    : how.by === 'answers'
      ? how.tests(options, many)
      : [...(from ? [how.from(from, site)] : []), ...(to ? [how.to(to, site)] : [])];
  return tests.map(({ test, operand }) => testOf(test, facet, operand));
}

/** What the question of an address says by each name; names are anything, also such that objects have of their own. */
export function readQuestion(pairs: Iterable<readonly [string, string]>): Record<string, string[]> {
  const asked = Object.create(null) as Record<string, string[]>;
  for (const [key, value] of pairs) (asked[key] ??= []).push(value);
  return asked;
}

/** What is said under one name. */
export const filterDescription = (
  key: string,
  asked: Readonly<Record<string, readonly string[]>> | undefined,
): readonly string[] => (asked && Object.hasOwn(asked, key) ? (asked[key] ?? []) : []);

/** The question of an address, `?` and all; '' where nothing is asked. */
export function questionOf(asked: Readonly<Record<string, readonly string[]>>): string {
  const query = new URLSearchParams(
    Object.entries(asked).flatMap(([key, values]) => values.map((value): [string, string] => [key, value])),
  ).toString();
  return query && `?${query}`;
}
