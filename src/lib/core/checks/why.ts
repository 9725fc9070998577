import type { Env } from '../paths/env';
import type { Path } from '../schema/path';
import type { CompiledElement } from '../render/compile';
import { pathWords } from '../paths/built-ins';
import { asWords, explain, ruleWords, type Explained } from '../rules/explain';
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
  turn: WouldTurn[];
}

export interface WouldTurn {
  /** Such as “State is Closed”, and whether that would have to hold. */
  words: string;
  to: boolean;
  saw: string;
  /** The value to look at. */
  path: Path;
}

/** The words for one change, such as “State is Closed” would have to hold; it saw Open. */
export function turnWords({ words, to, saw }: WouldTurn): string {
  const seen = saw.length > LONGEST ? `${saw.slice(0, LONGEST)} …` : `${saw}.`;
  return `“${words}” would have to ${to ? 'hold' : 'fail'}; it saw ${seen}`;
}
const LONGEST = 60;

/** What decides, as a sentence. `nameOf` names other elements. */
export function verdictOf({ shown, because, at }: Why, id: string, nameOf: (id: string) => string): string {
  const rule = at === id ? 'its rule' : `the rule of ${nameOf(at)}`;
  switch (because) {
    case 'always':
      return 'It appears: nothing hides it.';
    case 'empty':
      return 'It is left out: none of its values is filled here.';
    case 'broken':
      return `It is hidden: ${rule} cannot be read.`;
    case 'branch':
      return `It is hidden: the branch ${nameOf(at)} comes before it, and is shown.`;
    case 'rule':
      return shown ? `It appears: ${rule} holds.` : `It is hidden: ${rule} does not hold.`;
  }
}

function turnOf(rule: CompiledRule, wanted: boolean, env: Env): WouldTurn[] {
  return (changesFor(rule, wanted, env) ?? []).flatMap(({ rule: one, to }): WouldTurn[] => {
    const path = one.test?.path ?? one.where?.path;
    if (!path) return [];
    return [{ words: ruleWords(one, env), to, saw: asWords(path.read(env), path.type, env), path: path.path }];
  });
}

/**
 * Why an element shows or not in one place. `envAt` gives the environment inside the loops of a scope, at the turns that
 * are looked at; `fates` what became of each element in the drawing.
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
    if (rule?.problems.length) return { shown: false, because: 'broken', at, told, turn: [] };
    if (rule && !rule.holds(env)) return { shown: false, because: 'rule', at, told, turn: turnOf(rule, true, env) };
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
          told: first && explain(first, env),
          turn: first ? turnOf(first, false, env) : [],
        };
      }
    if (rule) last = { at, told, turn: turnOf(rule, false, env) };
  }
  if (!drawn(id)) return { shown: false, because: 'empty', at: id, turn: [] };
  return last ? { shown: true, because: 'rule', ...last } : { shown: true, because: 'always', at: id, turn: [] };
}

/** Where the values of an element come from, for one that shows nothing. */
export const valuesOf = (paths: readonly Path[], model: Parameters<typeof pathWords>[1]): string[] => [
  ...new Set(paths.map((path) => pathWords(path, model))),
];
