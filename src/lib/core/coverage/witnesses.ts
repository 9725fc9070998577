import type { Env } from '../paths/env';
import type { CompiledElement } from '../render/compile';
import { canBe } from '../rules/analyse';
import type { ModelIndex } from '../model/model-index';
import { compileRule, type CompiledRule } from '../rules/compile';
import { ruleWords } from '../rules/explain';
import { mapRule } from '../rules/walk';
import type { Wanted } from '../rules/witness';
import type { Path } from '../schema/path';
import type { Tree } from '../schema/element';
import { parentOf } from '../templates/tree';
import { sectionsOf, type Section } from './coverage';

const ALWAYS: CompiledRule = { rule: { group: 'all', rules: [] }, parts: [], problems: [], holds: () => true };

/** Rules as one. */
const joined = (group: 'all' | 'none', parts: CompiledRule[]): CompiledRule => ({
  rule: { group, rules: parts.map(({ rule }) => rule) },
  parts,
  problems: [],
  holds: (env) => parts.every((part) => part.holds(env) === (group === 'all')),
});

/** Why nothing can be said of an element by its rules alone: it stands in a loop, or a rule of it cannot be read. */
export type NotSearched = 'turns' | 'broken';

/** The rules of an element and of all around it, up to one that is not asked, and of branches those before it. */
function askedAround(
  tree: Tree,
  id: string,
  ruleOf: (id: string) => CompiledRule | undefined,
  until?: string,
): Wanted[] {
  const wanted: Wanted[] = [];
  for (let at: string | undefined = id; at && at !== until;) {
    const rule = ruleOf(at);
    if (rule) wanted.unshift({ rule, holds: true });
    const place = parentOf(tree, at);
    if (place?.parent.kind === 'alternatives')
      for (const one of place.parent.children.slice(0, place.index))
        wanted.unshift({ rule: ruleOf(one) ?? ALWAYS, holds: false });
    at = place?.parent.id;
  }
  return wanted;
}

/**
 * What has to come out for an element to be on a page, as far as rules decide: its own and those of all around it hold,
 * and of branches none before it does.
 */
export function wantedFor(
  tree: Tree,
  elements: ReadonlyMap<string, CompiledElement>,
  id: string,
): Wanted[] | NotSearched {
  if (elements.get(id)?.scopes.loops.length) return 'turns';
  const wanted = askedAround(tree, id, (one) => elements.get(one)?.rule);
  return wanted.some(({ rule }) => rule.problems.length) ? 'broken' : wanted;
}

/** What has to come out for an element to be in a turn of the loop that it stands in, asked of the record of the turn. */
export interface WantedInIteration {
  loop: string;
  typeIds: string[];
  wanted: Wanted[];
}

/**
 * The same within the turns of the innermost loop around an element, as far as rules decide that ask the record of the turn
 * alone. `rows`: the loop goes over no records. `around`: a rule asks for what stands around the turn, too.
 */
export function wantedInIteration(
  tree: Tree,
  elements: ReadonlyMap<string, CompiledElement>,
  id: string,
  model: ModelIndex,
): WantedInIteration | 'rows' | 'around' | 'broken' {
  const loop = elements.get(id)?.scopes.loops.at(-1);
  if (!loop?.typeIds.length || loop.fields) return 'rows';
  const from = `loop:${loop.id}`;
  const scopes = { recordTypeIds: loop.typeIds, loops: [] };
  let around = false;
  const ofRecord = (path: Path): Path => {
    if (path.from !== from) around = true;
    return { ...path, from: 'record' };
  };
  const ruleOf = (one: string) => {
    const rule = elements.get(one)?.rule;
    return rule && compileRule(mapRule(rule.rule, ofRecord), scopes, model);
  };
  const wanted = askedAround(tree, id, ruleOf, loop.id);
  if (around) return 'around';
  if (wanted.some(({ rule }) => rule.problems.length)) return 'broken';
  return { loop: loop.id, typeIds: loop.typeIds, wanted };
}

/** A rule as it has to come out, in words. */
export const wantedWords = ({ rule, holds }: Wanted, env: Env): string => {
  const words = rule === ALWAYS ? 'a branch without a rule' : ruleWords(rule, env);
  return holds ? `“${words}”` : `not “${words}”`;
};

/** Sections that rules alone let come together: a pattern of 1 and 0, one for each section, and what it asks of a record. */
export interface CanCombine {
  pattern: string;
  wanted: Wanted[];
}

/** So many combinations are found; where there are more, that is told. */
export const MOST_COMBINED = 60;

/**
 * Every combination of sections that can occur, as far as rules decide and the analysis can tell; sections in loops and
 * in parts are left out. What is not known to be impossible counts as possible.
 */
export function combinationsThatCan(
  tree: Tree,
  elements: ReadonlyMap<string, CompiledElement>,
  env: Env,
): { sections: Section[]; combinations: CanCombine[]; more: boolean } {
  const sections = sectionsOf(tree, elements).filter(
    ({ id, byDrawing }) => !byDrawing && wantedFor(tree, elements, id) !== 'broken',
  );
  const combinations: CanCombine[] = [];
  let more = false;
  const visit = (at: number, pattern: string, wanted: Wanted[]): void => {
    if (combinations.length >= MOST_COMBINED) {
      more = true;
      return;
    }
    const section = sections[at];
    if (!section) {
      combinations.push({ pattern, wanted });
      return;
    }
    const { id, within, branchOf } = section;
    const before = branchOf ? (tree.elements[branchOf]?.children ?? []) : [];
    const earlier = before.slice(0, before.indexOf(id)).map((one) => elements.get(one)?.rule ?? ALWAYS);
    const rule = joined('all', [elements.get(id)?.rule ?? ALWAYS, joined('none', earlier)]);
    // What stands in a section that is not there is not there either, whatever its own rule says.
    const inside = within.every((one) => pattern[sections.findIndex((other) => other.id === one)] !== '0');
    if (!inside) return visit(at + 1, `${pattern}0`, wanted);
    for (const holds of [true, false]) {
      const next = [...wanted, { rule, holds }];
      if (canBe(next, env) !== false) visit(at + 1, pattern + (holds ? '1' : '0'), next);
    }
  };
  visit(0, '', []);
  return { sections, combinations, more };
}
