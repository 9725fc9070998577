import { EMPTY_POOL, makeEnv, type Env } from '../paths/env';
import { Trace } from '../paths/trace';
import { IN_PART, type CompiledElement, type CompiledTree } from '../render/compile';
import type { CompiledRule } from '../rules/compile';
import type { Tree } from '../schema/element';
import { columnsFor, type RuleColumn } from '../loops/columns';
import type { Draw } from '../elements/element';
import { envOf, type Subject } from './subjects';

/** Something that is on some pages and not on others: an element with a rule, or a branch of alternatives. */
export interface Section {
  /** Of the element; of one in a part, after that of the element that places the part. */
  id: string;
  /** Of the elements around it, outermost first, those that are sections too. */
  within: string[];
  /** The alternatives that it is a branch of. */
  branchOf?: string;
  /** It stands in a loop, and is on a page once for each turn that shows it. */
  inTurns?: true;
  /** Only drawing tells whether it is there: it stands in a loop or in a part. */
  byDrawing?: true;
}

/** In how many turns of all pages a section is, and how many there are. */
export interface Iterations {
  drawn: number;
  of: number;
}

/** Sections down, pages across: those of records or archives, or turns of a loop. */
export interface Coverage {
  sections: Section[];
  /** Ids of the pages, in the order given. */
  ids: number[];
  /** For each section 1 for each page that it is on, else 0. */
  shown: Uint8Array[];
  /** For each section on how many pages it is. */
  totals: number[];
  /** For each section that stands in a loop. */
  turns: (Iterations | undefined)[];
}

/** A tree with what its elements were made into. */
interface Place {
  tree: Tree;
  elements: ReadonlyMap<string, CompiledElement>;
  /** Before the ids of its elements. */
  prefix: string;
  inTurns: boolean;
  inPart: boolean;
}

/**
 * The sections of a page, in reading order, those in loops and parts too. `also` are elements that are told of although
 * they have no rule; with `loop` only what one turn of that loop holds.
 */
export function sectionsOf(
  tree: Tree,
  elements: ReadonlyMap<string, CompiledElement>,
  also: readonly string[] = [],
  loop?: string,
): Section[] {
  const out: Section[] = [];
  const visit = (place: Place, own: string, within: string[], branchOf: string | undefined): void => {
    const { prefix, inTurns, inPart } = place;
    const element = place.tree.elements[own];
    const made = place.elements.get(own);
    if (!element || !made) return;
    const id = prefix + own;
    const section = made.rule !== undefined || branchOf !== undefined || also.includes(id);
    if (section)
      out.push({
        id,
        within,
        ...(branchOf && { branchOf }),
        ...(inTurns && { inTurns }),
        ...((inTurns || inPart) && { byDrawing: true }),
      });
    const inside = section ? [...within, id] : within;
    const below = { ...place, inTurns: inTurns || Boolean(made.loop) };
    for (const child of element.children) visit(below, child, inside, element.kind === 'alternatives' ? id : undefined);
    if (made.part)
      visit(
        { ...made.part, prefix: `${id}${IN_PART}`, inTurns: below.inTurns, inPart: true },
        made.part.tree.root,
        inside,
        undefined,
      );
  };
  const whole: Place = { tree, elements, prefix: '', inTurns: false, inPart: false };
  if (loop === undefined) visit(whole, tree.root, [], undefined);
  else for (const child of tree.elements[loop]?.children ?? []) visit(whole, child, [], undefined);
  return out;
}

/** One section made ready: its own rule, the earlier branches that come before it, and the sections around it by place. */
interface Ready {
  rule?: CompiledRule;
  before: (CompiledRule | undefined)[];
  within: number[];
}

/**
 * Which sections appear on which pages; with `loop` in which turns of that loop, the subjects being turns. `env` says in
 * what they are drawn. The tree has to be compiled with marks.
 */
export function coverageOf(
  tree: Tree,
  compiled: CompiledTree,
  subjects: readonly Subject[],
  env: Env,
  also: readonly string[] = [],
  loop?: string,
): Coverage {
  const steps = coverageSteps(tree, compiled, subjects, env, also, loop);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/** So many pages are drawn between two pauses. */
const DRAWN_AT_ONCE = 50;

/**
 * The same, some pages at a time: tells how many are done, and can be left at any of these. Where rules alone decide,
 * they are asked for a thousand records at once; where values do too, since a section with nothing in it is left out, the
 * page is drawn.
 */
export function* coverageSteps(
  tree: Tree,
  compiled: CompiledTree,
  subjects: readonly Subject[],
  env: Env,
  also: readonly string[] = [],
  loop?: string,
): Generator<number, Coverage> {
  const { elements } = compiled;
  const sections = sectionsOf(tree, elements, also, loop);
  const draw = drawingOf(tree, compiled, loop);
  // Rules are asked of many records at once; what else a page is about, only drawing it tells.
  const records = loop === undefined ? subjects.flatMap(({ record }) => record ?? []) : [];
  const plain = records.length === subjects.length;
  const places = new Map(sections.map(({ id }, i) => [id, i]));
  const turns = sections.map(({ inTurns }) => (inTurns ? { drawn: 0, of: 0 } : undefined));
  const ready = sections.map(({ id, within, branchOf, byDrawing }): Ready => {
    // What a turn decides is not known beforehand.
    if (byDrawing || !plain) return { before: [], within: within.map((one) => places.get(one) as number) };
    const branches = branchOf ? (tree.elements[branchOf]?.children ?? []) : [];
    return {
      rule: elements.get(id)?.rule,
      before: branches.slice(0, branches.indexOf(id)).map((one) => elements.get(one)?.rule),
      within: within.map((one) => places.get(one) as number),
    };
  });
  const filled = plain && sections.every(({ id, byDrawing }) => !byDrawing && surelyFilled(tree, elements, id, env));
  const shown = sections.map(() => new Uint8Array(subjects.length));
  const totals = sections.map(() => 0);
  for (let from = 0; from < subjects.length; from += 1000) {
    const until = Math.min(subjects.length, from + 1000);
    const columnOf = columnsFor(records.slice(from, until), env);
    for (let i = 0; i < ready.length; i++) {
      const { rule, before, within } = ready[i] as Ready;
      const out = (shown[i] as Uint8Array).subarray(from, until);
      if (rule) out.set(columnOf(rule));
      else out.fill(1);
      for (const j of within) only(out, (shown[j] as Uint8Array).subarray(from, until), 1);
      for (const one of before)
        if (one) only(out, columnOf(one), 0);
        else out.fill(0);
    }
    for (let at = from; !filled && at < until; at++) {
      if (at % DRAWN_AT_ONCE === DRAWN_AT_ONCE - 1) yield at;
      if (!shown.some((row) => row[at])) continue;
      const trace = new Trace();
      draw(envOf(subjects[at] as Subject, env, { trace }));
      const fates = trace.tally();
      for (const [i, { id, branchOf }] of sections.entries()) {
        const drawn = fates.get(id)?.drawn ?? 0;
        if (!drawn) (shown[i] as Uint8Array)[at] = 0;
        const counted = turns[i];
        if (!counted) continue;
        counted.drawn += drawn;
        // Of branches only the one that is chosen is asked.
        const { drawn: on = 0, rule = 0, empty = 0 } = fates.get(branchOf ?? id) ?? {};
        counted.of += on + rule + empty;
      }
    }
    for (let i = 0; i < shown.length; i++)
      for (const on of (shown[i] as Uint8Array).subarray(from, until)) totals[i]! += on;
    yield until;
  }
  return { sections, ids: subjects.map(({ id }) => id), shown, totals, turns };
}

const pageOf = ({ model, pool, today }: Env): Pick<Env, 'model' | 'pool' | 'today'> => ({ model, pool, today });

/** How a page is drawn; with `loop` how one turn of it is. */
export function drawingOf(tree: Tree, compiled: CompiledTree, loop?: string): Draw {
  if (loop === undefined) return compiled.draw;
  const children = (tree.elements[loop]?.children ?? []).flatMap((id) => compiled.elements.get(id)?.whole ?? []);
  return (env) => children.map((draw) => draw(env)).join('');
}

/**
 * Whether an element has something to show on every page on which its rule holds: words of its own, or something in it
 * that has, without a rule. Asked by drawing it on a page where every value is empty.
 */
function surelyFilled(tree: Tree, elements: CompiledTree['elements'], id: string, env: Env): boolean {
  const element = tree.elements[id];
  const made = elements.get(id);
  if (!element || !made || made.loop || element.kind === 'alternatives') return false;
  const bound = Object.values(element.slots).some((slot) => 'bound' in slot || 'words' in slot);
  if (element.children.length)
    return (
      !bound && element.children.some((child) => !elements.get(child)?.rule && surelyFilled(tree, elements, child, env))
    );
  const worded = Object.values(element.slots).some((slot) => 'fixed' in slot && slot.fixed);
  return worded && !bound && made.draw(makeEnv({ ...pageOf(env), pool: EMPTY_POOL })) !== '';
}

/** Leaves only what another column has as wanted. */
function only(column: RuleColumn, other: RuleColumn, wanted: 0 | 1): void {
  const flip = wanted ^ 1;
  for (let i = 0; i < column.length; i++) column[i]! &= other[i]! ^ flip;
}

/** Sections that come together on some page, and on how many. */
export interface Combination {
  /** By place among the sections: 1 where it appears. */
  pattern: string;
  count: number;
  /** A page to look at for it: the first. */
  id: number;
}

/** The combinations that occur, the most frequent first. */
export function combinationsOf({ ids, shown }: Pick<Coverage, 'ids' | 'shown'>): Combination[] {
  const found = new Map<string, Combination>();
  for (const [at, id] of ids.entries()) {
    let pattern = '';
    for (const row of shown) pattern += row[at] ? '1' : '0';
    const known = found.get(pattern);
    if (known) known.count++;
    else found.set(pattern, { pattern, count: 1, id });
  }
  return [...found.values()].sort((a, b) => b.count - a.count);
}

/** Up to so many combinations the smallest set is found for certain; beyond, a set near it. */
const EXACT = 24;

/**
 * The fewest pages on which every section is seen at least once shown and at least once hidden, as far as it is
 * either. Beyond a few combinations the greedy way is taken: whatever shows most that was not seen yet, again and again;
 * it needs at most 1 + ln(2 × sections) times as many as the fewest (Chvátal, A Greedy Heuristic for the Set-Covering
 * Problem, Mathematics of Operations Research 4, 1979).
 */
export function smallestLook(coverage: Pick<Coverage, 'ids' | 'shown'>, upTo = EXACT): number[] {
  const combinations = combinationsOf(coverage);
  const sets = combinations.map(({ pattern }) => {
    let set = 0n;
    for (let i = 0; i < pattern.length; i++) set |= 1n << BigInt(2 * i + (pattern[i] === '1' ? 1 : 0));
    return set;
  });
  const all = sets.reduce((a, b) => a | b, 0n);
  const chosen = greedy(sets, all);
  const best = combinations.length <= upTo ? exact(sets, all, chosen) : chosen;
  return best.map((at) => (combinations[at] as Combination).id);
}

function bits(set: bigint): number {
  let count = 0;
  for (let left = set; left; left &= left - 1n) count++;
  return count;
}

function greedy(sets: readonly bigint[], all: bigint): number[] {
  const chosen: number[] = [];
  for (let left = all; left;) {
    let best = 0;
    for (let i = 1; i < sets.length; i++)
      if (bits((sets[i] as bigint) & left) > bits((sets[best] as bigint) & left)) best = i;
    chosen.push(best);
    left &= ~(sets[best] as bigint);
  }
  return chosen;
}

/** Tries what covers the first thing not yet seen, going no deeper than the best found so far. */
function exact(sets: readonly bigint[], all: bigint, found: number[]): number[] {
  let best = found;
  const search = (left: bigint, chosen: number[]): void => {
    if (!left) {
      if (chosen.length < best.length) best = chosen;
      return;
    }
    if (chosen.length + 1 >= best.length) return;
    const lowest = left & -left;
    for (let i = 0; i < sets.length; i++)
      if ((sets[i] as bigint) & lowest) search(left & ~(sets[i] as bigint), [...chosen, i]);
  };
  search(all, []);
  return best;
}
