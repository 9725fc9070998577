import type { NamedTest } from '../model/family';
import type { CompiledElement, LooseEnd } from '../render/compile';
import type { Env } from '../paths/env';
import { analyse, analyseBranches, canBe, testsIn } from '../rules/analyse';
import { compileRule, type CompiledRule } from '../rules/compile';
import { ruleWords } from '../rules/explain';
import { filterChoicesOf } from '../loops/visitors';
import type { ModelIndex } from '../model/model-index';
import { problem } from '../base/result';
import type { Element, Tree } from '../schema/element';
import { elementNamed } from '../elements';

const ALWAYS: CompiledRule = { rule: { group: 'all', rules: [] }, parts: [], problems: [], holds: () => true };

/** Answers by what was asked, for each state of the model: rules are asked about again with every edit of their template. */
const answers = new WeakMap<ModelIndex, Map<string, unknown>>();
function once<T>(env: Env, rules: readonly CompiledRule[], make: () => T): T {
  const known = answers.get(env.model) ?? new Map<string, unknown>();
  answers.set(env.model, known);
  const key = `${env.today} ${JSON.stringify(rules.map(({ rule }) => rule))}`;
  if (!known.has(key)) known.set(key, make());
  return known.get(key) as T;
}

/** What is known of a rule without records: which way it always comes out, and that as a sentence. */
interface Verdict {
  is: 'never' | 'always';
  words: string;
}

function verdictOf(rule: CompiledRule, env: Env): Verdict | undefined {
  if (rule.problems.length) return undefined;
  return once(env, [rule], () => {
    const { never, always, conflict } = analyse(rule, env);
    if (always) return { is: 'always', words: 'This always holds, whatever a record says.' };
    if (!never) return undefined;
    const parts = conflict.map((part) => `“${ruleWords(part, env)}”`);
    const words =
      parts.length > 1
        ? `This can never hold: ${parts.join(' and ')} contradict each other.`
        : 'This can never hold, whatever a record says.';
    return { is: 'never', words };
  });
}

/** A rule with what is known of it without records, as a sentence; undefined where there is nothing to say. */
export const ruleVerdictWords = (rule: CompiledRule, env: Env): string | undefined => verdictOf(rule, env)?.words;

/** Elements that no record can make appear, and alternatives with a branch too many or too few. */
export function endsOfRules(tree: Tree, elements: ReadonlyMap<string, CompiledElement>, env: Env): LooseEnd[] {
  const ends: LooseEnd[] = [];
  const tell = (elementId: string, what: string, fix: string, cause?: LooseEnd['cause']) =>
    ends.push({ ...problem('rule', what, fix), elementId, via: 'rule', ...(cause && { cause }) });
  for (const [id, { rule }] of elements) {
    const verdict = rule && verdictOf(rule, env);
    if (verdict?.is === 'never') tell(id, verdict.words, 'Change one of the tests.');
  }
  for (const element of Object.values(tree.elements)) {
    if (element.kind !== 'alternatives' || element.children.length < 2) continue;
    const own = element.children.map((id) => elements.get(id)?.rule ?? ALWAYS);
    if (own.some((rule) => rule.problems.length)) continue;
    const { branches, nothing, missing } = once(env, [ALWAYS, ...own], () => {
      const found = analyseBranches(own, env);
      return { ...found, missing: found.nothing ? withoutBranch(own, elements.get(element.id), env) : undefined };
    });
    for (const [i, { never, shadowed }] of branches.entries())
      if (!never && shadowed)
        tell(
          element.children[i] as string,
          'This branch is never shown: wherever it could be, one before it is.',
          'Move it up, or change its rule or theirs.',
        );
    if (nothing && missing) tell(element.id, missing, 'Add a branch for it, or one without a rule at the end.');
    const rest = own.at(-1);
    const each = own.slice(0, -1);
    if (rest && !rest.parts.length && areEach(each)) {
      const left = once(env, [ALWAYS, ALWAYS, ALWAYS, ...each], () =>
        withoutBranch(each, elements.get(element.id), env),
      );
      const name = tree.elements[element.children.at(-1) ?? '']?.name;
      if (left)
        tell(
          element.id,
          `${left.replace(/\.$/, '')}: what has it gets ${name ? `“${name}”` : 'the last branch'}.`,
          'Make a branch for each answer once more: only what is missing is added.',
        );
    }
    for (const child of element.children) {
      const branch = tree.elements[child];
      if (
        branch &&
        !branch.children.length &&
        elementNamed(branch.kind)?.holds &&
        elements.get(child) &&
        !fillsItself(branch)
      )
        tell(
          child,
          'This branch has nothing in it: what gets it gets nothing.',
          'Put something into it, or take it away.',
          'empty branch',
        );
    }
  }
  return ends;
}

/** Whether branches are those for the answers of one value: each asks for an answer of its own and for nothing else. */
function areEach(branches: readonly CompiledRule[]): boolean {
  const tests = branches.flatMap((rule) => (rule.parts.length === 1 ? testsIn(rule) : []));
  const at = new Set(tests.map(({ path }) => JSON.stringify(path.path)));
  const asked = new Set(tests.map(({ test }) => JSON.stringify([test.test, test.operand])));
  const [first] = tests;
  return (
    tests.length > 1 &&
    tests.length === branches.length &&
    at.size === 1 &&
    asked.size === tests.length &&
    first?.path.type.kind.family.operand === 'answers'
  );
}

/** Whether a holder shows something without holding anything, such as a picture behind it. */
const fillsItself = ({ slots, props }: Element): boolean => Object.keys(slots).length > 0 || props.stays === true;

/** Of the branches of alternatives that have a rule: which later ones may hold together with each, by their places. */
export function overlapsIn(branches: readonly (CompiledRule | undefined)[], env: Env): number[][] {
  const own = branches.map((rule) => rule ?? ALWAYS);
  if (own.some((rule) => rule.problems.length)) return [];
  const found = once(env, [ALWAYS, ALWAYS, ...own], () => analyseBranches(own, env).branches);
  return found.map(({ overlaps }) => overlaps.filter((j) => branches[j]));
}

/** Options of a choice, or yes and no, that branches ask for and that none of them is ever shown for. */
function withoutBranch(rules: readonly CompiledRule[], at: CompiledElement | undefined, env: Env): string | undefined {
  const tested = rules
    .flatMap(testsIn)
    .find(({ path: { type } }) => !type.many && type.kind.family.operand === 'answers');
  if (!tested || !at) return undefined;
  const { path } = tested;
  const some: CompiledRule = { ...ALWAYS, rule: { group: 'any', rules: [] }, parts: [...rules] };
  const left = filterChoicesOf(path.type, env.model).filter(({ key }) => {
    const is = compileRule(
      { ...(path.type.kind.family.branch?.(key) as NamedTest), path: path.path },
      at.scopes,
      env.model,
    );
    const shown = canBe(
      [
        { rule: is, holds: true },
        { rule: some, holds: true },
      ],
      env,
    );
    return shown === false;
  });
  return left.length
    ? `There is no branch for ${path.type.label} ${left.map(({ label }) => `“${label}”`).join(' or ')}.`
    : undefined;
}
