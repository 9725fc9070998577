import { inventor } from '../content/invent';
import { canSuppose, inventedRecord, supposedRecords, type Supposed } from '../content/suppose';
import { kindOf, relationOf } from '../model/field';
import type { Inventor } from '../model/kinds/kind';
import type { ModelIndex } from '../model/model-index';
import { makeEnv, type Env, type Pool } from '../paths/env';
import { fieldsOf } from '../paths/items';
import type { Row } from '../paths/pool';
import type { ValueType } from '../paths/scopes';
import type { ContentRecord, Media } from '../schema/record';
import type { Path } from '../schema/path';
import { isGroup } from '../schema/rule';
import { dayNumber } from '../base/write';
import { canBe } from './analyse';
import type { CompiledRule, CompiledTest } from './compile';
import { changesFor } from './outcomes';
import { possibleValues } from './possible';

/** A rule with how it has to come out. */
export interface Wanted {
  rule: CompiledRule;
  holds: boolean;
}

/** What a witness is looked for among. */
export interface Among {
  model: ModelIndex;
  /** The records that may be it, and that values are supposed of. */
  records: readonly ContentRecord[];
  /** The content types it may be of. */
  typeIds: readonly string[];
  pool: Pool;
  media: readonly Media[];
  /** A full-date. */
  today: string;
}

export type Witness =
  /** A record that is there. */
  | { is: 'there'; record: ContentRecord }
  /** A record, maybe a made-up one, with as few values supposed as were found to do. */
  | { is: 'made'; record: ContentRecord; supposed: Supposed }
  /** There can be none: these contradict each other. */
  | { is: 'never'; because: Wanted[] }
  /** Whether there can be one is not known. */
  | { is: 'unknown' };

/** So many ways to set values are tried for one record. */
const MOST_TRIES = 6000;
/** So many of the records that come nearest are tried. */
const NEAREST = 3;

/**
 * A witness: a record for which rules come out as wanted, all at once. One that is there before any other; else the
 * nearest, by the number of tests that would have to come out otherwise, with values of it supposed; else a made-up one.
 * What is told was asked of the rules themselves. Of rules that are asked in the turns of loops nothing is known.
 */
export function witnessFor(wanted: readonly Wanted[], among: Among): Witness {
  const { model, records, typeIds, pool, today } = among;
  const envOf = (record: ContentRecord, over: Pool = pool) => makeEnv({ model, pool: over, today, record });
  const met = (env: Env) => wanted.every(({ rule, holds }) => rule.holds(env) === holds);
  const candidates = records.filter(({ typeId }) => typeIds.includes(typeId));
  const there = candidates.find((record) => met(envOf(record)));
  if (there) return { is: 'there', record: there };
  if (canBe(wanted, envOf(inventedRecord(typeIds[0] ?? '', model))) === false)
    return { is: 'never', because: contradicting(wanted, envOf(inventedRecord(typeIds[0] ?? '', model))) };
  let best: { record: ContentRecord; supposed: Supposed; changes: number } | undefined;
  for (const base of bases(wanted, candidates, among, envOf)) {
    const found = supposeFor(wanted, base, among, best ? best.changes - 1 : Infinity);
    if (found && (!best || found.changes < best.changes)) best = { record: base, ...found };
    if (best && best.changes <= 1) break;
  }
  return best ? { is: 'made', record: best.record, supposed: best.supposed } : { is: 'unknown' };
}

/** What is wanted in parts, as far as each of them is wanted by itself. */
function partsOf({ rule, holds }: Wanted): Wanted[] {
  if (rule.named) return partsOf({ rule: rule.parts[0] as CompiledRule, holds });
  if (rule.test || rule.where || !isGroup(rule.rule) || !rule.parts.length) return [{ rule, holds }];
  const { group } = rule.rule;
  // All of them have to hold; or none of them may.
  if ((group === 'all') !== holds) return [{ rule, holds }];
  return rule.parts.flatMap((part) => partsOf({ rule: part, holds: group === 'all' }));
}

/** The fewest of what is wanted that already cannot come together. */
function contradicting(wanted: readonly Wanted[], env: Env): Wanted[] {
  const all = wanted.flatMap(partsOf);
  let left = [...all];
  for (const one of all) {
    const without = left.filter((other) => other !== one);
    if (without.length && canBe(without, env) === false) left = without;
  }
  return left;
}

/** The records that come nearest, the nearest of each type, and a made-up one of each. */
function bases(
  wanted: readonly Wanted[],
  candidates: readonly ContentRecord[],
  { typeIds, model }: Among,
  envOf: (record: ContentRecord) => Env,
): ContentRecord[] {
  const far = candidates.map((record) => {
    const env = envOf(record);
    const changes = wanted.map(({ rule, holds }) => changesFor(rule, holds, env)?.length ?? 100);
    return { record, changes: changes.reduce((sum, n) => sum + n, 0) };
  });
  far.sort((a, b) => a.changes - b.changes || a.record.id - b.record.id);
  const near = new Set(far.slice(0, NEAREST).map(({ record }) => record));
  for (const id of typeIds) {
    const own = far.find(({ record }) => record.typeId === id);
    if (own) near.add(own.record);
  }
  return [...near, ...typeIds.map((id) => inventedRecord(id, model))];
}

interface Variable {
  path: Path;
  type: ValueType;
  tests: CompiledTest[];
  where: CompiledRule[];
}

/** What rules look at, by path; the shortest first, since longer ones lead through them. */
function variablesOf(rules: readonly CompiledRule[]): Variable[] {
  const known = new Map<string, Variable>();
  const at = ({ path, type }: CompiledTest['path']): Variable => {
    const key = JSON.stringify([path.from, path.steps]);
    let variable = known.get(key);
    if (!variable) known.set(key, (variable = { path, type, tests: [], where: [] }));
    return variable;
  };
  const visit = (rule: CompiledRule): void => {
    if (rule.test) {
      at(rule.test.path).tests.push(rule.test);
      if (rule.test.other) at(rule.test.other).tests.push(rule.test);
    } else if (rule.where) at(rule.where.path).where.push(rule);
    else rule.parts.forEach(visit);
  };
  rules.forEach(visit);
  return [...known.values()].sort((a, b) => a.path.steps.length - b.path.steps.length);
}

/** Values of one record, and of those it leads to, so that everything comes out as wanted; fewer changes first. */
function supposeFor(
  wanted: readonly Wanted[],
  base: ContentRecord,
  among: Among,
  most: number,
): { supposed: Supposed; changes: number } | undefined {
  const { model, pool, today } = among;
  const variables = variablesOf(wanted.map(({ rule }) => rule)).filter(({ path }) => settable(path, model));
  const plain = makeEnv({ model, pool, today, record: base });
  const choices = variables.map((variable) => candidatesFor(variable, variables, base, among, plain));
  let tries = 0;
  const search = (at: number, left: number, supposed: Supposed): Supposed | undefined => {
    const variable = variables[at];
    if (!variable || !left) {
      if (left || ++tries > MOST_TRIES) return undefined;
      const changed = supposedRecords(supposed, (id) => (id === base.id ? base : pool.record(id)), model);
      const env = makeEnv({ model, pool: poolOver(pool, changed), today, record: changed.get(base.id) ?? base });
      return wanted.every(({ rule, holds }) => rule.holds(env) === holds) ? supposed : undefined;
    }
    for (const value of choices[at] ?? []) {
      const next = setAt(variable.path, value, supposed, base, among);
      const found = next && search(at + 1, left - 1, next);
      if (found) return found;
      if (tries > MOST_TRIES) return undefined;
    }
    return search(at + 1, left, supposed);
  };
  for (let changes = 0; changes <= Math.min(most, variables.length); changes++) {
    const supposed = search(0, changes, new Map());
    if (supposed) return { supposed, changes };
  }
  return undefined;
}

/** Whether a path ends in a value of the page's record, or of one that it leads to by itself. */
const settable = ({ from, steps }: Path, model: ModelIndex): boolean =>
  from === 'record' &&
  steps.length > 0 &&
  canSuppose(steps.at(-1) as string, model) &&
  steps.slice(0, -1).every((step) => {
    const field = model.field(step)?.field;
    return field && relationOf(field)?.many === false;
  });

/** Supposes a value at a path. Where nothing is led to yet, the first record that may be is. */
function setAt(
  path: Path,
  value: unknown,
  supposed: Supposed,
  base: ContentRecord,
  among: Among,
): Supposed | undefined {
  const { model, pool, records } = among;
  const out = new Map([...supposed].map(([id, values]) => [id, { ...values }]));
  const put = (id: number, step: string, to: unknown) => out.set(id, { ...out.get(id), [step]: to });
  let at = base;
  for (const step of path.steps.slice(0, -1)) {
    const ids = out.get(at.id)?.[step] ?? at.values[step];
    let next = Array.isArray(ids) ? pool.record(ids[0] as number) : undefined;
    if (!next) {
      const field = model.field(step)?.field;
      const typeIds = (field && relationOf(field)?.typeIds) ?? [];
      const found = records.find(({ id, typeId }) => typeIds.includes(typeId) && id !== at.id && pool.record(id));
      if (!found) return undefined;
      put(at.id, step, [found.id]);
      next = found;
    }
    at = next;
  }
  put(at.id, path.steps.at(-1) as string, value);
  return out;
}

/** What the analysis knows of values for these tests; nothing where there are none. */
const known = (tests: readonly CompiledTest[], env: Env): unknown[] =>
  tests.length ? (possibleValues(tests, env)?.values ?? []) : [];

/** Words that no test asks for, where any would do. */
const ELSE = 'Something else';

/** Stands where the analysis says “some other value”. */
const isOther = (value: unknown): boolean => typeof value === 'string' && value.startsWith('\u{f0000}');

/** Values that a path may be given: one for each way in which its tests can come out, as far as that is known. */
function candidatesFor(
  variable: Variable,
  all: readonly Variable[],
  base: ContentRecord,
  among: Among,
  env: Env,
): unknown[] {
  const { type, tests, where } = variable;
  const own = tests.filter(({ other, path }) => !other && samePlace(path.path, variable.path));
  const days = own.filter(({ operator }) => operator.decided?.by === 'days');
  const rest = own.filter((made) => !days.includes(made));
  const from = [rest, days].flatMap((some) => known(some, env));
  const texts = textsFor(own, env);
  const constants = own.flatMap(({ test }) =>
    Array.isArray(test.operand) ? (test.operand as unknown[]) : [test.operand],
  );
  const raw = [
    ...from,
    ...texts,
    ...own.flatMap(({ operator, test }) => operator.tries?.(test.operand, [...constants, ...texts]) ?? []),
    ...tests.filter(({ other }) => other).flatMap((made) => near(made, variable, all, base, env)),
    ...where.flatMap((rule) => rowsFor(rule, type, among, env)),
    ...(own.length || where.length ? [] : [undefined, ...from]),
  ];
  const seen = new Set<string>();
  return raw
    .map((value) => real(value, type, own, among))
    .filter((value) => {
      const key = JSON.stringify(value) ?? '';
      if (seen.has(key) || !fits(value, type)) return false;
      seen.add(key);
      return true;
    });
}

const samePlace = (a: Path, b: Path): boolean => a.from === b.from && a.steps.join(' ') === b.steps.join(' ');

/** Whether a field would take a value. */
function fits(value: unknown, { kind, settings, many }: ValueType): boolean {
  if (value === undefined) return true;
  if (kind.family.leads === 'record') return Array.isArray(value) && value.every((one) => typeof one === 'number');
  const check = kind.value(settings);
  return many
    ? Array.isArray(value) && value.length > 0 && value.every((one) => check.safeParse(one).success)
    : !Array.isArray(value) && check.safeParse(value).success;
}

/** A value of the analysis as one that a record can have: others are found or made up. */
function real(value: unknown, type: ValueType, tests: readonly CompiledTest[], among: Among): unknown {
  const { kind, settings, many } = type;
  const named = new Set(tests.flatMap(({ test }) => (Array.isArray(test.operand) ? (test.operand as unknown[]) : [])));
  if (kind.family.leads === 'record') {
    const ids = Array.isArray(value) ? (value as number[]) : typeof value === 'number' ? [value] : [];
    const spare = among.records.filter(
      ({ id, typeId }) => type.typeIds.includes(typeId) && !named.has(id) && among.pool.record(id),
    );
    const out = ids.flatMap((id) => (id < 0 ? (spare.shift()?.id ?? []) : id));
    // Too few others leave a hole, which is another value than was meant.
    return out.length === ids.length ? (out.length ? out : undefined) : Number.NaN;
  }
  const other = (): unknown =>
    kind.value(settings).safeParse(ELSE).success ? ELSE : kind.invent?.(inventorFor(among), settings);
  if (Array.isArray(value)) {
    const list = (value as unknown[]).map((one) => (isOther(one) ? other() : one));
    return many && list.length ? list : list.length ? list : undefined;
  }
  return isOther(value) ? other() : value;
}

const inventorFor = ({ media, records, today }: Among): Inventor => ({
  ...inventor(7),
  today: dayNumber(today),
  pictures: media.filter(({ mime }) => mime.startsWith('image/')).map(({ id }) => id),
  files: media.map(({ id }) => id),
  records: (typeIds) => records.filter(({ typeId }) => typeIds.includes(typeId)).map(({ id }) => id),
});

/** Texts that have all of what tests of parts of text ask for, and those that have each. */
function textsFor(tests: readonly CompiledTest[], env: Env): string[] {
  const parts = tests.flatMap(({ operator, path: { type }, test }) => {
    const lookup = typeof test.operand === 'string' ? operator.lookup?.(test.operand, env, type) : undefined;
    return lookup?.by === 'text' && 'has' in lookup ? [lookup] : [];
  });
  if (!parts.length) return [];
  const at = (place: (typeof parts)[number]['at']) =>
    parts.flatMap((part) => (part.at === place && !part.not ? [part.has] : []));
  const [starts, has, ends] = [at('start'), at('anywhere'), at('end')];
  const longest = (list: string[]) => [...list].sort((a, b) => b.length - a.length)[0] ?? '';
  return [
    [longest(starts), ...has, longest(ends)].filter(Boolean).join(' '),
    longest(starts) + has.join('') + longest(ends),
    ...starts,
    ...has,
    ...ends,
    ...starts.flatMap((start) => ends.map((end) => `${start} ${end}`)),
    ELSE,
  ].filter(Boolean);
}

/** What a value is compared with, and what lies next to that. */
function near(
  made: CompiledTest,
  { path, type }: Variable,
  all: readonly Variable[],
  base: ContentRecord,
  env: Env,
): unknown[] {
  const here = samePlace(made.path.path, path);
  const other = here ? made.other : made.path;
  if (!other) return [];
  const at = makeEnv({ model: env.model, pool: env.pool, today: env.today, record: base });
  const value = other.read(at);
  const { possible, columns } = type.kind.family;
  if (possible.by !== 'line') return [value, undefined, ...(type.many ? [] : [ELSE])];
  const tested = all.flatMap((one) => (samePlace(one.path, other.path) ? one.tests : []));
  const values = [
    value,
    ...known(
      tested.filter((test) => !test.other),
      env,
    ),
  ];
  const step = possible.step(type.settings);
  return values.flatMap((one) => {
    const number = one === undefined ? 0 : (columns.number?.(one, other.type.settings) ?? 0);
    return [number, number - step, number + step]
      .filter((to) => possible.within(to, type.settings))
      .map((to) => possible.at(Number(to.toFixed(10))));
  });
}

/** Rows, or records, for which what is asked of them holds, and some for which it does not. */
function rowsFor(rule: CompiledRule, type: ValueType, among: Among, env: Env): unknown[] {
  const { where } = rule;
  const [asked] = rule.parts;
  if (!where || !asked) return [];
  const single = (things: unknown[], holds: (thing: never) => boolean) => {
    const yes = things.find((thing) => holds(thing as never));
    const no = things.find((thing) => !holds(thing as never));
    return { yes, no };
  };
  const listsOf = ({ yes, no }: { yes: unknown; no: unknown }): unknown[] => [
    undefined,
    ...(yes === undefined ? [] : [[yes]]),
    ...(no === undefined ? [] : [[no]]),
    ...(yes === undefined || no === undefined ? [] : [[yes, no]]),
  ];
  const ask = (thing: never) => where.at(env, thing, () => asked.holds(env));
  if (type.kind.family.leads === 'record') {
    const some = among.records.filter(({ id, typeId }) => type.typeIds.includes(typeId) && among.pool.record(id));
    const { yes, no } = single(some, ask);
    return listsOf({ yes: (yes as ContentRecord | undefined)?.id, no: (no as ContentRecord | undefined)?.id });
  }
  if (type.kind.family.leads !== 'entry') return [];
  // Each sub-field by what its tests tell apart; rows are put together from these.
  const inners = variablesOf([asked]);
  const spare = (fieldsOf(type) ?? []).find(
    (field) =>
      !relationOf(field) && inners.every(({ path }) => path.steps[0] !== field.id) && kindOf(field)?.kind.invent,
  );
  const filled = spare && kindOf(spare)?.kind.invent?.(inventorFor(among), spare.settings);
  let rows: Row[] = [{}, ...(spare && filled !== undefined ? [{ [spare.id]: filled }] : [])];
  for (const inner of inners) {
    const [step, ...more] = inner.path.steps;
    if (step === undefined || more.length) continue;
    const values = candidatesFor(inner, [inner], inventedRecord('', among.model), among, env);
    rows = rows
      .flatMap((row) => values.map((value) => (value === undefined ? row : { ...row, [step]: value })))
      .slice(0, MOST_ROWS);
  }
  // A row has something in it.
  const some = rows.filter((row) => Object.keys(row).length);
  return listsOf(single(some, ask));
}
const MOST_ROWS = 400;

/** A pool in which some records are otherwise, for what reads records one by one; lists are those of before. */
const poolOver = (pool: Pool, changed: ReadonlyMap<number, ContentRecord>): Pool => ({
  ...pool,
  record: (id) => changed.get(id) ?? pool.record(id),
});
