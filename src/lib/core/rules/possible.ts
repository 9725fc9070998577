import { dayNumber, dayOf, minutesOf, startOfDay } from '../base/write';
import type { Env } from '../paths/env';
import type { ValueType } from '../paths/scopes';
import type { CompiledTest } from './compile';

/**
 * Values that between them give the tests on one path every outcome that any value could: one for each interval that the
 * constants cut, each option, each set of terms as far as the tests tell them apart. `undefined` stands for an empty one.
 * `left` are tests that no such values exist for; what they come to is anybody's guess.
 */
export interface Possible {
  values: unknown[];
  left: CompiledTest[];
}

/** Sets of more things than this are not gone through. */
const MOST_MEMBERS = 10;

/** What the value at one path may be, as far as these tests of it can tell; undefined where that is too much to go through. */
export function possibleValues(tests: readonly CompiledTest[], env: Env): Possible | undefined {
  const type = (tests[0] as CompiledTest).path.type;
  const { family } = type.kind;
  // What is compared with another value of the record depends on that.
  const own = tests.filter((made) => !made.test.other);
  const left = tests.filter((made) => made.test.other);
  if (type.many) {
    const lists = listsFor(own, type, env);
    return lists && { values: lists, left };
  }
  switch (family) {
    case 'yesno':
      return { values: [undefined, true, false], left };
    case 'choice':
      return { values: [undefined, ...optionsOf(type)], left };
    case 'number':
    case 'date':
    case 'time':
    case 'datetime': {
      const days = own.filter((made) => made.test.test.startsWith('day.'));
      const fixed = own.filter((made) => made.operator.name.startsWith('order.'));
      // Of the rest only presence has the same answer for all values.
      left.push(...own.filter((made) => made.operator.name.startsWith('whole.')));
      // Days from today and fixed days move past each other; the first are then as good as unknown.
      if (days.length && fixed.length) return { values: along(fixed, type, env), left: [...left, ...days] };
      return { values: along([...fixed, ...days], type, env), left };
    }
    case 'text':
    case 'link':
    case 'rich': {
      const constants = own.flatMap(({ test }) =>
        test.test === 'text.is' || test.test === 'text.isnt' || test.test === 'text.oneof' ? listed(test.operand) : [],
      );
      const parts = own.filter(({ test }) => /^text\.(contains|lacks|starts|ends)$/.test(test.test));
      if (parts.length)
        return { values: [undefined, SOME], left: [...left, ...own.filter((one) => one.operator.operand !== 'none')] };
      return { values: [undefined, ...constants, SOME], left };
    }
    case 'relation': {
      const lists = listsFor(own, type, env);
      return lists && { values: [undefined, ...lists.flatMap((list) => (list.length === 1 ? list : []))], left };
    }
    default:
      // Only whether there is a value can be asked.
      return { values: [undefined, SOME], left: [...left, ...own.filter((one) => one.operator.operand !== 'none')] };
  }
}

/** A value that no constant of a test is, or is part of. */
const SOME = '\u{f0000}';

const listed = (operand: unknown): unknown[] => (Array.isArray(operand) ? (operand as unknown[]) : [operand]);
const optionsOf = (type: ValueType): string[] =>
  ((type.settings as { options?: { key: string }[] }).options ?? []).map((option) => option.key);

/** One value for each constant, and one for each interval between and beyond them that has any. */
function along(tests: readonly CompiledTest[], type: ValueType, env: Env): unknown[] {
  const { family } = type.kind;
  const { timeZone } = env.model.site;
  const numberOf = (value: unknown): number =>
    family === 'number'
      ? (value as number)
      : family === 'time'
        ? minutesOf(value as string)
        : family === 'date'
          ? dayNumber(value as string)
          : Date.parse(value as string);
  const relative = tests.some((made) => made.test.test.startsWith('day.'));
  const valueOf = (at: number): unknown => {
    if (family === 'number') return at;
    if (family === 'date') return dayOf(Math.round(at));
    if (family === 'time') return clock(at);
    // Days from today are those of the calendar: some time on that day.
    return new Date(relative ? startOfDay(dayOf(Math.round(at)), timeZone).getTime() + 6 * HOUR : at).toISOString();
  };
  const today = dayNumber(env.today);
  const cuts = [
    ...new Set(
      tests.flatMap(({ test, operator }): number[] => {
        if (!test.test.startsWith('day.'))
          return operator.operand === 'none' ? [] : listed(test.operand).map(numberOf).filter(Number.isFinite);
        const days = Number(test.operand ?? 0);
        return test.test === 'day.last'
          ? [today - days, today]
          : test.test === 'day.next'
            ? [today, today + days]
            : [today];
      }),
    ),
  ].sort((a, b) => a - b);
  const { decimals, min, max } = type.settings as { decimals?: number; min?: number; max?: number };
  const step = family === 'number' ? 10 ** -(decimals ?? 6) : 1;
  const allowed = (at: number): boolean =>
    family === 'number'
      ? type.kind.value(type.settings).safeParse(Number(at.toFixed(10))).success
      : family !== 'time' || (at >= 0 && at < 24 * 60);
  /** Some allowed value between two, without them. */
  const between = (low: number, high: number): number[] => {
    const middle = (low + high) / 2;
    const tries = [
      ...(Number.isFinite(middle) ? [middle, Math.floor(middle), Math.ceil(middle)] : []),
      ...[low + step, low + 1, high - step, high - 1, min ?? Number.NaN, max ?? Number.NaN, 0, 1],
    ];
    const found = tries.find(
      (at) => at > low && at < high && allowed(at) && (family === 'number' || Number.isInteger(at)),
    );
    return found === undefined ? [] : [Number(found.toFixed(10))];
  };
  const ends = [-Infinity, ...cuts, Infinity];
  const found = ends
    .slice(1)
    .flatMap((high, i) => [
      ...between(ends[i] as number, high),
      ...(Number.isFinite(high) && allowed(high) ? [high] : []),
    ]);
  return [undefined, ...found.map(valueOf)];
}
const HOUR = 3_600_000;
const clock = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(Math.round(minutes) % 60).padStart(2, '0')}`;

/** Sets of members that the tests tell apart, and as many of the others as counts do. */
function listsFor(tests: readonly CompiledTest[], type: ValueType, env: Env): unknown[][] | undefined {
  const { family } = type.kind;
  const sets = tests.filter((made) => /^(terms|relation|choices)\./.test(made.test.test));
  const counts = tests.filter((made) => made.operator.counts).map(({ test }) => Number(test.operand));
  const most = Math.max(1, ...counts.map((count) => count + 1));
  if (most > 200) return undefined;
  const named = [...new Set(sets.flatMap(({ test }) => listed(test.operand)))];
  const members = family === 'terms' ? termsToldApart(sets, type, env) : named;
  if (members.length > MOST_MEMBERS) return undefined;
  const others = othersOf(type, members, env);
  const room = Math.min(most, others);
  const out: unknown[][] = [];
  for (let bits = 0; bits < 1 << members.length; bits++) {
    const chosen = members.filter((_, i) => bits & (1 << i));
    for (let more = 0; more <= room; more++) {
      // Others only matter to counts, and to whether there is anything at all.
      if (!counts.length && more > 1) break;
      out.push([...chosen, ...otherMembers(type, members, more)]);
    }
  }
  return out;
}

/** How many members there are beside those that tests name. */
function othersOf(type: ValueType, members: readonly unknown[], env: Env): number {
  if (type.kind.family === 'choice') return optionsOf(type).filter((key) => !members.includes(key)).length;
  if (type.kind.family !== 'terms') return Infinity;
  const { taxonomyId } = type.settings as { taxonomyId: string };
  return Math.max(0, env.model.termsOf(taxonomyId).length - members.length);
}

const otherMembers = (type: ValueType, members: readonly unknown[], count: number): unknown[] =>
  type.kind.family === 'choice'
    ? optionsOf(type)
        .filter((key) => !members.includes(key))
        .slice(0, count)
    : Array.from({ length: count }, (_, i) => (type.kind.family === 'relation' ? -1 - i : `${SOME}${i}`));

/** One term for each way in which the tests see terms: those that are named, or lie below named ones, alike. */
function termsToldApart(tests: readonly CompiledTest[], type: ValueType, env: Env): string[] {
  const { taxonomyId } = type.settings as { taxonomyId: string };
  const seen = new Map<string, string>();
  for (const { id } of env.model.termsOf(taxonomyId)) {
    const sees = tests.map(({ test }) =>
      listed(test.operand)
        .map((wanted) => (id === wanted ? 'is' : env.model.below(String(wanted)).includes(id) ? 'below' : ''))
        .join(),
    );
    if (sees.some((one) => /[a-z]/.test(one))) seen.set(sees.join('|'), seen.get(sees.join('|')) ?? id);
  }
  return [...seen.values()];
}
