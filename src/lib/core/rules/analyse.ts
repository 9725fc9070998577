import type { Env } from '../paths/env';
import type { CompiledRule, CompiledTest } from './compile';
import { outcome } from './operators/operator';
import { possibleValues } from './possible';
import { isGroup, type Where } from '../schema/rule';

/** What can be said of a rule without any record: true, false, or that it cannot be told. */
export type Certain = boolean | undefined;

export interface Analysis {
  /** No record can ever make it hold. */
  never: Certain;
  /** Every record makes it hold. */
  always: Certain;
  /** Where it never holds: the fewest of the parts joined by "all" that contradict each other. */
  conflict: CompiledRule[];
}

/** More than so many outcomes are not gone through. */
const MOST_TRIES = 60_000;

/** By test, or by rule for what is asked of rows. */
type Outcomes = Map<CompiledTest | CompiledRule, boolean>;
/** What may come together: for each path the outcomes that its tests can have at once. */
interface Variable {
  key: string;
  outcomes: Outcomes[];
}

/** The tests that a rule is made of, without those asked of items. */
export const testsIn = (rule: CompiledRule): CompiledTest[] =>
  rule.test ? [rule.test] : rule.where ? [] : rule.parts.flatMap((part) => testsIn(part));
const rowsIn = (rule: CompiledRule): CompiledRule[] =>
  rule.where ? [rule] : rule.parts.flatMap((part) => rowsIn(part));

/** The tests of some rules by the path they look at, each with the outcomes that values of it can give. */
function variablesOf(rules: readonly CompiledRule[], env: Env): Variable[] | undefined {
  const byPath = new Map<string, CompiledTest[]>();
  for (const made of rules.flatMap(testsIn)) {
    const key = `${made.test.path.from} ${made.test.path.steps.join(' ')}`;
    const list = byPath.get(key);
    if (list) list.push(made);
    else byPath.set(key, [made]);
  }
  const variables: Variable[] = [];
  for (const [key, tests] of byPath) {
    const possible = possibleValues(tests, env);
    if (!possible) return undefined;
    const free = new Set(possible.left);
    const fixed = tests.filter((made) => !free.has(made));
    const seen = new Map<string, Outcomes>();
    for (const value of possible.values) {
      const outcomes = fixed.map((made) => outcomeOf(made, value, env));
      seen.set(outcomes.join(), new Map(fixed.map((made, i) => [made, outcomes[i] as boolean])));
    }
    variables.push({ key, outcomes: [...seen.values()] });
    // Tests alike come out alike; beyond that nothing is known of these.
    const alikeTests = new Map<string, CompiledTest[]>();
    for (const made of free) {
      const words = JSON.stringify(made.test);
      alikeTests.set(words, [...(alikeTests.get(words) ?? []), made]);
    }
    for (const [words, same] of alikeTests)
      variables.push({
        key: `${key} ${words}`,
        outcomes: [true, false].map((outcome) => new Map(same.map((made) => [made, outcome]))),
      });
  }
  // Of what is asked of rows nothing is known but that the same comes out the same.
  const alike = new Map<string, CompiledRule[]>();
  for (const asked of rules.flatMap(rowsIn)) {
    const { as } = asked.rule as Where;
    const words = JSON.stringify(asked.rule).replaceAll(`"${as}"`, '""').replaceAll(`"loop:${as}"`, '"loop:"');
    alike.set(words, [...(alike.get(words) ?? []), asked]);
  }
  for (const [key, same] of alike)
    variables.push({ key, outcomes: [true, false].map((outcome) => new Map(same.map((one) => [one, outcome]))) });
  return variables;
}

/** What a test says of a value that is not in any record. */
function outcomeOf({ operator, path, operand }: CompiledTest, value: unknown, env: Env): boolean {
  return outcome(operator, value, operand(env), env, path.type);
}

/** A rule by the outcomes known so far; undefined where these do not settle it. */
function settle(rule: CompiledRule, known: Outcomes): Certain {
  if (rule.test) return known.get(rule.test);
  if (rule.where) return known.get(rule);
  if (rule.named) return settle(rule.parts[0] as CompiledRule, known);
  // What cannot be read holds nowhere.
  if (!isGroup(rule.rule)) return false;
  if (!rule.parts.length) return true;
  const parts = rule.parts.map((part) => settle(part, known));
  const { group } = rule.rule;
  if (group === 'all') return parts.includes(false) ? false : parts.includes(undefined) ? undefined : true;
  const some = parts.includes(true) ? true : parts.includes(undefined) ? undefined : false;
  return group === 'any' ? some : some === undefined ? undefined : !some;
}

/** Rules that must come out as wanted, all at once: whether values for that exist. Undefined where there is too much to try. */
export function canBe(wanted: readonly { rule: CompiledRule; holds: boolean }[], env: Env): Certain {
  const variables = variablesOf(
    wanted.map(({ rule }) => rule),
    env,
  );
  if (!variables) return undefined;
  let tries = 0;
  const known: Outcomes = new Map();
  const search = (at: number): Certain => {
    if (++tries > MOST_TRIES) return undefined;
    const now = wanted.map(({ rule, holds }) => {
      const outcome = settle(rule, known);
      return outcome === undefined ? undefined : outcome === holds;
    });
    if (now.includes(false)) return false;
    if (!now.includes(undefined)) return true;
    const variable = variables[at];
    if (!variable) return true;
    let unsure = false;
    for (const outcomes of variable.outcomes) {
      for (const [made, outcome] of outcomes) known.set(made, outcome);
      const found = search(at + 1);
      if (found) return true;
      if (found === undefined) unsure = true;
    }
    for (const made of variable.outcomes[0]?.keys() ?? []) known.delete(made);
    return unsure ? undefined : false;
  };
  return search(0);
}

const not = (certain: Certain): Certain => (certain === undefined ? undefined : !certain);

/**
 * Whether a rule can never hold, or always does, whatever a record says. Exact for yes and no, choices, terms, links to
 * records, numbers, dates and counts; of parts of text, and of values compared with each other, nothing is taken for granted.
 */
export function analyse(rule: CompiledRule, env: Env): Analysis {
  const never = not(canBe([{ rule, holds: true }], env));
  return {
    never,
    always: never ? false : not(canBe([{ rule, holds: false }], env)),
    conflict: never ? conflictOf(rule, env) : [],
  };
}

/** The parts of an "all" that already contradict each other, and of which none can be spared. */
function conflictOf(rule: CompiledRule, env: Env): CompiledRule[] {
  if (!isGroup(rule.rule) || rule.rule.group !== 'all' || rule.parts.length < 2) return [rule];
  let left = rule.parts;
  for (const part of rule.parts) {
    const without = left.filter((one) => one !== part);
    const still = canBe(
      without.map((one) => ({ rule: one, holds: true })),
      env,
    );
    if (still === false) left = without;
  }
  return left;
}

export interface BranchAnalysis {
  /** By itself it can never hold. */
  never: Certain;
  /** Wherever it holds, an earlier one does, so that it is never shown. */
  shadowed: Certain;
  /** Later branches that can hold together with it. */
  overlaps: number[];
}

/** Of alternatives, in their order: which are never shown, which can hold at once, and whether there may be none. */
export function analyseBranches(
  rules: readonly CompiledRule[],
  env: Env,
): { branches: BranchAnalysis[]; nothing: Certain } {
  const branches = rules.map((rule, i) => {
    const never = not(canBe([{ rule, holds: true }], env));
    const earlier = rules.slice(0, i).map((one) => ({ rule: one, holds: false }));
    return {
      never,
      shadowed: never || !i ? false : not(canBe([{ rule, holds: true }, ...earlier], env)),
      overlaps: rules.flatMap((other, j) =>
        j > i &&
        canBe(
          [
            { rule, holds: true },
            { rule: other, holds: true },
          ],
          env,
        )
          ? [j]
          : [],
      ),
    };
  });
  return {
    branches,
    nothing: canBe(
      rules.map((rule) => ({ rule, holds: false })),
      env,
    ),
  };
}
