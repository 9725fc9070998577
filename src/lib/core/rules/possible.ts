import { boundsIn } from '../model/settings';
import { dayNumber, dayOf, startOfDay } from '../base/write';
import type { Possible } from '../model/family';
import type { Env } from '../paths/env';
import type { ValueType } from '../paths/scopes';
import type { CompiledTest } from './compile';
import type { Decision } from './operators/operator';

/**
 * Values that between them give the tests on one path every outcome that any value could: one for each interval that the
 * constants cut, each option, each set of terms as far as the tests tell them apart. `undefined` stands for an empty one.
 * `left` are tests that no such values exist for; what they come to is anybody's guess.
 */
export interface PossibleValues {
  values: unknown[];
  left: CompiledTest[];
}

/** Sets of more things than this are not gone through. */
const MOST_MEMBERS = 10;

/** What the value at one path may be, as far as these tests of it can tell; undefined where that is too much to go through. */
export function possibleValues(tests: readonly CompiledTest[], env: Env): PossibleValues | undefined {
  const type = (tests[0] as CompiledTest).path.type;
  const { possible } = type.kind.family;
  // What is compared with another value of the record depends on that.
  const own = tests.filter((made) => !made.test.other);
  const left = tests.filter((made) => made.test.other);
  const by = (...ways: Decision['by'][]) =>
    own.filter(({ operator: { decided } }) => decided && ways.includes(decided.by));
  /** Of those that are decided otherwise nothing is known. */
  const unknown = (...ways: Decision['by'][]) => {
    const decided = by('presence', ...ways);
    return [...left, ...own.filter((made) => !decided.includes(made))];
  };
  if (type.many) {
    const lists = listsFor(own, type, env);
    return lists && { values: lists, left: unknown('members', 'count') };
  }
  switch (possible.by) {
    case 'answers':
      return { values: [undefined, ...possible.values(type.settings)], left };
    case 'line': {
      const [days, fixed] = [by('days'), by('cuts')];
      // Days from today and fixed days move past each other; the first are then as good as unknown.
      if (days.length && fixed.length) return { values: along(fixed, type, possible, env), left: unknown('cuts') };
      return { values: along([...fixed, ...days], type, possible, env), left: unknown('cuts', 'days') };
    }
    case 'words': {
      // One that goes by something else, such as a part of a text, may have any of them.
      if (own.length > by('texts', 'presence').length) return { values: [undefined, SOME], left: unknown() };
      const constants = own.flatMap(({ operator: { decided }, test }) =>
        decided?.by === 'texts' ? decided.texts(test.operand) : [],
      );
      return { values: [undefined, ...constants, SOME], left };
    }
    case 'members': {
      const lists = listsFor(own, type, env);
      return (
        lists && {
          values: [undefined, ...lists.flatMap((list) => (list.length === 1 ? list : []))],
          left: unknown('members'),
        }
      );
    }
    case 'presence':
      // Only whether there is a value can be asked.
      return { values: [undefined, SOME], left: unknown() };
  }
}

/** A value that no constant of a test is, or is part of. */
const SOME = '\u{f0000}';

const listed = (operand: unknown): unknown[] => (Array.isArray(operand) ? (operand as unknown[]) : [operand]);
/** One value for each constant, and one for each interval between and beyond them that has any. */
function along(tests: readonly CompiledTest[], type: ValueType, line: Line, env: Env): unknown[] {
  const { timeZone } = env.model.site;
  const numberOf = (value: unknown): number => type.kind.family.columns.number?.(value, type.settings) ?? Number.NaN;
  const relative = tests.some(({ operator }) => operator.decided?.by === 'days');
  const valueOf = (at: number): unknown =>
    // Days from today are those of the calendar: some time on that day.
    line.at(line.instants && relative ? startOfDay(dayOf(Math.round(at)), timeZone).getTime() + 6 * HOUR : at);
  const today = dayNumber(env.today);
  const cuts = [
    ...new Set(
      tests.flatMap(({ test, operator: { decided } }): number[] =>
        decided?.by === 'days'
          ? decided.cuts(Number(test.operand ?? 0)).map((day) => today + day)
          : decided?.by === 'cuts'
            ? decided.cuts(test.operand).map(numberOf).filter(Number.isFinite)
            : [],
      ),
    ),
  ].sort((a, b) => a - b);
  const { min, max } = boundsIn(type.settings);
  const step = line.step(type.settings);
  const allowed = (at: number): boolean =>
    line.within(at, type.settings) &&
    (line.whole || type.kind.value(type.settings).safeParse(Number(at.toFixed(10))).success);
  /** Some allowed value between two, without them. */
  const between = (low: number, high: number): number[] => {
    const middle = (low + high) / 2;
    const tries = [
      ...(line.tries?.(type.settings) ?? []),
      ...(Number.isFinite(middle) ? [middle, Math.floor(middle), Math.ceil(middle)] : []),
      low + step,
      low + 1,
      high - step,
      high - 1,
      min ?? Number.NaN,
      max ?? Number.NaN,
      0,
      1,
    ];
    const found = tries.find((at) => at > low && at < high && allowed(at) && (!line.whole || Number.isInteger(at)));
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
type Line = Extract<Possible, { by: 'line' }>;

/** Sets of members that the tests tell apart, and as many of the others as counts do. */
function listsFor(tests: readonly CompiledTest[], type: ValueType, env: Env): unknown[][] | undefined {
  const sets = tests.filter(({ operator }) => operator.decided?.by === 'members');
  const counts = tests
    .filter(({ operator }) => operator.decided?.by === 'count')
    .map(({ test }) => Number(test.operand));
  const most = Math.max(1, ...counts.map((count) => count + 1));
  if (most > 200) return undefined;
  const named = [...new Set(sets.flatMap(({ test }) => listed(test.operand)))];
  const members = isTree(type) ? answersToldApart(sets, type, env) : named;
  if (members.length > MOST_MEMBERS) return undefined;
  const others = othersOf(type, members, env);
  const room = Math.min(most, others);
  const out: unknown[][] = [];
  for (let bits = 0; bits < 1 << members.length; bits++) {
    const chosen = members.filter((_, i) => bits & (1 << i));
    for (let more = 0; more <= room; more++) {
      // Others only matter to counts, and to whether there is anything at all.
      if (!counts.length && more > 1) break;
      out.push([...chosen, ...otherMembers(type, members, more, env)]);
    }
  }
  return out;
}

const answersOf = ({ kind, settings }: ValueType, env: Env): string[] | undefined =>
  kind.family.answers?.(settings, env.model).map(({ key }) => key);

/** Whether answers lie below others, as terms do. */
const isTree = ({ kind: { family } }: ValueType): boolean =>
  family.facet?.by === 'answers' && family.facet.counted === 'terms';

/** How many members there are beside those that tests name. */
function othersOf(type: ValueType, members: readonly unknown[], env: Env): number {
  const answers = answersOf(type, env);
  if (!answers) return Infinity;
  if (isTree(type)) return Math.max(0, answers.length - members.length);
  return answers.filter((key) => !members.includes(key)).length;
}

function otherMembers(type: ValueType, members: readonly unknown[], count: number, env: Env): unknown[] {
  const { possible } = type.kind.family;
  const answers = isTree(type) ? undefined : answersOf(type, env);
  if (answers) return answers.filter((key) => !members.includes(key)).slice(0, count);
  return Array.from({ length: count }, (_, i) => (possible.by === 'members' ? possible.other(i) : `${SOME}${i}`));
}

/** One answer for each way in which the tests see answers: those that are named, or lie below named ones, alike. */
function answersToldApart(tests: readonly CompiledTest[], type: ValueType, env: Env): string[] {
  const { facet } = type.kind.family;
  const seen = new Map<string, string>();
  for (const id of answersOf(type, env) ?? []) {
    const above = facet?.by === 'answers' ? facet.keysOf(id, env.model) : [];
    const sees = tests.map(({ test }) =>
      listed(test.operand)
        .map((wanted) => (id === wanted ? 'is' : above.includes(String(wanted)) ? 'below' : ''))
        .join(),
    );
    if (sees.some((one) => /[a-z]/.test(one))) seen.set(sees.join('|'), seen.get(sees.join('|')) ?? id);
  }
  return [...seen.values()];
}
