import { newId } from '../base/ids';
import { mapRule, pathsOf } from '../rules/walk';
import type { Group, Rule } from '../schema/rule';
import type { Path } from '../schema/path';
import type { Binding, Run, SlotValue } from '../schema/binding';
import { formatNamed } from '../formats';
import type { Element, Tree } from '../schema/element';

/** A piece of a tree on its own: what is inserted, removed, copied. `top` is the id of its topmost element. */
export interface Piece {
  top: string;
  elements: Record<string, Element>;
}

export function parentOf(tree: Tree, id: string): { parent: Element; index: number } | undefined {
  for (const parent of Object.values(tree.elements)) {
    const index = parent.children.indexOf(id);
    if (index >= 0) return { parent, index };
  }
  return undefined;
}

/** Elements of a tree in reading order, each with its depth and the ids above it, outermost first. */
export function walk(tree: Tree, from = tree.root): { element: Element; depth: number; above: string[] }[] {
  const out: { element: Element; depth: number; above: string[] }[] = [];
  const visit = (id: string, above: string[]) => {
    const element = tree.elements[id];
    if (!element) return;
    out.push({ element, depth: above.length, above });
    for (const child of element.children) visit(child, [...above, id]);
  };
  visit(from, []);
  return out;
}

export const isWithin = (tree: Tree, id: string, ancestor: string): boolean =>
  walk(tree, ancestor).some(({ element }) => element.id === id);

/** An element with everything below it. */
export function pieceOf(tree: Tree, id: string): Piece {
  return { top: id, elements: Object.fromEntries(walk(tree, id).map(({ element }) => [element.id, element])) };
}

/** The same piece under fresh ids; paths that start at one of its own loops follow. */
export function freshPiece(piece: Piece): Piece {
  const ids = new Map(Object.keys(piece.elements).map((id) => [id, newId('e')]));
  const newOf = (id: string) => ids.get(id) ?? id;
  const path = (p: Path): Path => (p.from.startsWith('loop:') ? { ...p, from: `loop:${newOf(p.from.slice(5))}` } : p);
  const elements = Object.values(piece.elements).map((element) => {
    const moved = mapPaths({ ...element, id: newOf(element.id), children: element.children.map(newOf) }, path);
    return [moved.id, moved] as const;
  });
  return { top: newOf(piece.top), elements: Object.fromEntries(elements) };
}

/** An element with every path in it passed through `change`: bindings, fallbacks, rules, sources and filters. */
export function mapPaths(element: Element, change: (path: Path) => Path): Element {
  const rule = (r: Rule): Rule => mapRule(r, change);
  const binding = (b: Binding): Binding => ({
    ...b,
    path: change(b.path),
    fallbacks: b.fallbacks.map((f) => ('path' in f ? { ...f, path: change(f.path) } : f)),
    formats: b.formats.map((use) => {
      const controls = formatNamed(use.format)?.controls.filter(({ name, as }) => as === 'path' && use.options[name]);
      return controls?.length
        ? {
            ...use,
            options: {
              ...use.options,
              ...Object.fromEntries(controls.map(({ name }) => [name, change(use.options[name] as Path)])),
            },
          }
        : use;
    }),
  });
  const run = (r: Run): Run => ({
    ...r,
    ...(r.bound ? { bound: binding(r.bound) } : {}),
    ...(r.link ? { link: slotValue(r.link) as Run['link'] } : {}),
  });
  const slotValue = (slot: SlotValue): SlotValue =>
    'bound' in slot
      ? { bound: binding(slot.bound) }
      : 'words' in slot
        ? { words: slot.words.map((line) => line.map(run)) }
        : slot;
  const slots = Object.fromEntries(Object.entries(element.slots).map(([name, slot]) => [name, slotValue(slot)]));
  const props = { ...element.props } as Record<string, unknown> & {
    source?: { from: string; path?: Path };
    filter?: Group;
    about?: Path;
  };
  if (props.source?.path) props.source = { ...props.source, path: change(props.source.path) };
  if (props.about) props.about = change(props.about);
  if (props.filter) props.filter = rule(props.filter) as Group;
  return { ...element, slots, props, ...(element.rule ? { rule: rule(element.rule) as Group } : {}) };
}

/** Where an element reads a value: the use, and the path it follows. */
export interface PathUse {
  elementId: string;
  /** Slot name, or `rule`, or `repeats` for what a loop goes over, or `about` for the record of a part. */
  via: string;
  path: Path;
}

/** Every path that a tree reads. */
export function usesOf(tree: Tree): PathUse[] {
  const uses: PathUse[] = [];
  for (const { element } of walk(tree)) {
    const note = (via: string) => (path: Path) => {
      uses.push({ elementId: element.id, via, path });
      return path;
    };
    for (const [name, slot] of Object.entries(element.slots))
      mapPaths({ ...element, slots: { [name]: slot }, props: {}, rule: undefined }, note(name));
    if (element.rule) pathsOf(element.rule).forEach(note('rule'));
    const { source, filter, about, order, group } = element.props as {
      source?: unknown;
      filter?: Group;
      about?: unknown;
      order?: { steps: string[] }[];
      group?: { steps: string[] };
    };
    for (const { steps } of [...(order ?? []), ...(group ? [group] : [])])
      note('repeats')({ from: `loop:${element.id}`, steps });
    mapPaths({ ...element, slots: {}, rule: undefined, props: { about } }, note('about'));
    mapPaths({ ...element, slots: {}, rule: undefined, props: { source } }, note('repeats'));
    if (filter) pathsOf(filter).forEach(note('repeats'));
  }
  return uses;
}
