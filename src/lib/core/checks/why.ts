import type { Env } from '../paths/env';
import type { Path } from '../schema/path';
import { elementNamed } from '../elements';
import type { CompiledElement } from '../render/compile';
import { pathWords } from '../paths/built-ins';
import { asWords, explain, ruleWords, sawOf, type Explained } from '../rules/explain';
import { changesFor } from '../rules/outcomes';
import type { CompiledRule } from '../rules/compile';
import type { Tree } from '../schema/element';
import { walk } from '../templates/tree';

/** Why an element is on a page or is not: the outermost thing that decides. */
export interface Why {
  shown: boolean;
  /** Its own rule, or that of what it stands in; an earlier branch; nothing to show; or what cannot be read. */
  because: 'rule' | 'branch' | 'empty' | 'broken' | 'always';
  /** The element that decides: itself, what it stands in, or the branch that is shown instead. */
  at: string;
  /** The rule of that element with what it saw. */
  told?: Explained;
  /** What would have to be otherwise for it to turn round, the least there is. */
  turn: WouldChange[];
  /** Its rule only lacks what it compares with. */
  unfinished?: boolean;
  /** Why there is nothing in `at`, where that is what decides. */
  nothing?: Nothing;
}

/**
 * Why an element has nothing to show: no words were written, no value is filled, its list has nothing in it, it holds
 * nothing, or whatever it holds shows nothing, by ids.
 */
export type Nothing = { is: 'unwritten' | 'unfilled' | 'unlisted' | 'bare' } | { is: 'within'; ids: string[] };

export interface WouldChange {
  /** Such as “State is Closed”, and whether that would have to hold. */
  words: string;
  to: boolean;
  saw: string;
  /** The value to look at. */
  path: Path;
}

/** The words for one change, such as “State is Closed” would have to hold; it saw Open. */
export function wouldChangeWords({ words, to, saw }: WouldChange): string {
  const seen = saw.length > LONGEST ? `${saw.slice(0, LONGEST)} …` : `${saw}.`;
  return `“${words}” would have to ${to ? 'hold' : 'fail'}; it saw ${seen}`;
}
const LONGEST = 60;

/** What decides, as a sentence. `nameOf` names other elements. */
export function verdictOf(
  { shown, because, at, nothing, unfinished }: Why,
  id: string,
  nameOf: (id: string) => string,
): string {
  const rule = at === id ? 'its rule' : `the rule of ${nameOf(at)}`;
  const own = at === id;
  switch (because) {
    case 'always':
      return 'It appears: nothing hides it.';
    case 'empty':
      return `It is left out${own ? '' : ` with ${nameOf(at)}`}: ${nothingWords(nothing, own ? 'it' : 'that', nameOf)}.`;
    case 'broken':
      return `It is hidden: ${rule} ${unfinished ? 'is not finished' : 'cannot be read'}.`;
    case 'branch':
      return nothing
        ? `It is hidden: the branch ${nameOf(at)} comes before it, though ${nothingWords(nothing, 'that', nameOf)}.`
        : `It is hidden: the branch ${nameOf(at)} comes before it, and is shown.`;
    case 'rule':
      return shown ? `It appears: ${rule} holds.` : `It is hidden: ${rule} does not hold.`;
  }
}

/** So many of what is empty are named. */
const MOST_NAMED = 5;

function nothingWords(nothing: Nothing | undefined, it: string, nameOf: (id: string) => string): string {
  const its = it === 'it' ? 'its' : 'its own';
  switch (nothing?.is) {
    case 'unwritten':
      return `${it} has no words`;
    case 'unlisted':
      return `${its} list has nothing in it here`;
    case 'bare':
      return `${it} holds nothing`;
    case 'within': {
      const { ids } = nothing;
      const more = ids.length > MOST_NAMED ? [`${ids.length - MOST_NAMED} more`] : [];
      const names = [...ids.slice(0, MOST_NAMED).map(nameOf), ...more];
      return `everything in it is empty or hidden here: ${new Intl.ListFormat('en').format(names)}`;
    }
    default:
      return `none of ${its} values is filled here`;
  }
}

/** Why an element whose rule holds draws nothing in one place. */
function nothingIn(tree: Tree, made: CompiledElement, id: string, env: () => Env): Nothing {
  const element = tree.elements[id];
  if (made.loop) {
    const here = env();
    if (!here.pool.list(made.loop, here).items.length) return { is: 'unlisted' };
  }
  if (element?.children.length) return { is: 'within', ids: element.children };
  if (elementNamed(element?.kind ?? '')?.holds) return { is: 'bare' };
  const slots = Object.values(element?.slots ?? {});
  return { is: slots.some((slot) => 'bound' in slot || 'words' in slot) ? 'unfilled' : 'unwritten' };
}

/** Why an element that no rule hides is left out in one place, as a sentence; `env` is only asked for the lists of loops. */
export const leftOutWords = (
  tree: Tree,
  made: CompiledElement,
  id: string,
  env: () => Env,
  nameOf: (id: string) => string,
): string => `It is left out: ${nothingWords(nothingIn(tree, made, id, env), 'it', nameOf)}.`;

function wouldChange(rule: CompiledRule, wanted: boolean, env: Env): WouldChange[] {
  return (changesFor(rule, wanted, env) ?? []).flatMap(({ rule: one, to }): WouldChange[] => {
    const path = one.test?.path ?? one.where?.path;
    if (!path) return [];
    const saw = one.test ? sawOf(one.test, env) : asWords(path.read(env), path.type, env);
    return [{ words: ruleWords(one, env), to, saw, path: path.path }];
  });
}

/**
 * Why an element shows or not in one place. `envAt` gives the environment inside the loops of a scope, at the turns that
 * are looked at, `drawn` whether an element is on the page. The tree has to be compiled as visitors get it.
 */
export function whyOf(
  tree: Tree,
  elements: ReadonlyMap<string, CompiledElement>,
  id: string,
  envAt: (element: CompiledElement) => Env,
  drawn: (id: string) => boolean,
): Why {
  const line = [...(walk(tree).find((row) => row.element.id === id)?.above ?? []), id];
  let last: Pick<Why, 'told' | 'turn' | 'at'> | undefined;
  for (const [i, at] of line.entries()) {
    const made = elements.get(at);
    if (!made) return { shown: false, because: 'broken', at, turn: [] };
    const { rule } = made;
    const env = envAt(made);
    const told = rule && explain(rule, env);
    if (rule?.problems.length) {
      const unfinished = rule.problems.every((one) => /(^|\.)operand$/.test(one.at));
      return { shown: false, because: 'broken', at, told, turn: [], ...(unfinished && { unfinished }) };
    }
    if (rule && !rule.holds(env))
      return { shown: false, because: 'rule', at, told, turn: wouldChange(rule, true, env) };
    const parent = tree.elements[line[i - 1] ?? ''];
    if (parent?.kind === 'alternatives')
      for (const other of parent.children.slice(0, parent.children.indexOf(at))) {
        const before = elements.get(other);
        const first = before?.rule;
        if (!before || (first && !first.holds(env))) continue;
        return {
          shown: false,
          because: 'branch',
          at: other,
          ...(!drawn(other) && { nothing: nothingIn(tree, before, other, () => env) }),
          told: first && explain(first, env),
          turn: first ? wouldChange(first, false, env) : [],
        };
      }
    if (rule) last = { at, told, turn: wouldChange(rule, false, env) };
  }
  if (!drawn(id)) {
    // The nearest in which there is nothing: it, or what leaves it out with itself.
    for (const at of [...line].reverse()) {
      const made = elements.get(at);
      const env = made && envAt(made);
      if (made && env && made.draw(env) === '')
        return { shown: false, because: 'empty', at, turn: [], nothing: nothingIn(tree, made, at, () => env) };
    }
    return { shown: false, because: 'empty', at: id, turn: [] };
  }
  return last ? { shown: true, because: 'rule', ...last } : { shown: true, because: 'always', at: id, turn: [] };
}

/** Where the values of an element come from, for one that shows nothing. */
export const valuesOf = (paths: readonly Path[], model: Parameters<typeof pathWords>[1]): string[] => [
  ...new Set(paths.map((path) => pathWords(path, model))),
];
