import { fail, ok, problem, type Result } from '../base/result';
import { isWithin, parentOf, pieceOf, type Piece } from './tree';
import type { Element, Tree } from '../schema/element';

/**
 * A change to a tree as a small value. Applying one gives the new tree and the operation that takes it back; undo,
 * redo and autosave all rest on that.
 */
export type TreeOperation =
  | { do: 'insert'; parent: string; index: number; piece: Piece }
  | { do: 'remove'; id: string }
  | { do: 'move'; id: string; parent: string; index: number }
  /** Puts `value` at a place within an element; undefined takes the place away. */
  | {
      do: 'put';
      id: string;
      at: ('name' | 'rule' | 'props' | 'slots' | 'look' | 'style' | 'css' | (string & {}))[];
      value: unknown;
    }
  /** Another tree as a whole, such as an earlier version. */
  | { do: 'replace'; tree: Tree };

/** A named edit: what one undo takes back. */
export interface Edit {
  label: string;
  operations: TreeOperation[];
}

interface Applied {
  tree: Tree;
  inverse: TreeOperation;
}

const withElement = (tree: Tree, element: Element): Tree => ({
  ...tree,
  elements: { ...tree.elements, [element.id]: element },
});

const spliced = (list: string[], index: number, remove: number, ...add: string[]): string[] => {
  const out = [...list];
  out.splice(index, remove, ...add);
  return out;
};

function putAt(target: unknown, at: string[], value: unknown): unknown {
  const [first, ...rest] = at;
  if (first === undefined) return value;
  const base = (typeof target === 'object' && target !== null ? target : {}) as Record<string, unknown>;
  const inner = putAt(Object.hasOwn(base, first) ? base[first] : undefined, rest, value);
  const out = { ...base };
  if (inner === undefined) delete out[first];
  else out[first] = inner;
  return out;
}

const getAt = (target: unknown, at: string[]): unknown =>
  at.reduce<unknown>(
    (t, key) =>
      typeof t === 'object' && t !== null && Object.hasOwn(t, key) ? (t as Record<string, unknown>)[key] : undefined,
    target,
  );

const PUTTABLE = new Set(['name', 'rule', 'props', 'slots', 'look', 'style', 'css']);

export function applyOperation(tree: Tree, operation: TreeOperation): Result<Applied> {
  switch (operation.do) {
    case 'insert': {
      const parent = tree.elements[operation.parent];
      if (!parent) return fail(problem('parent', 'The place to insert into is gone.'));
      if (Object.keys(operation.piece.elements).some((id) => tree.elements[id]))
        return fail(problem('piece', 'An element with this id stands in the template already.'));
      const index = Math.min(Math.max(0, operation.index), parent.children.length);
      const elements = { ...tree.elements, ...operation.piece.elements };
      elements[parent.id] = { ...parent, children: spliced(parent.children, index, 0, operation.piece.top) };
      return ok({ tree: { ...tree, elements }, inverse: { do: 'remove', id: operation.piece.top } });
    }
    case 'remove': {
      const place = parentOf(tree, operation.id);
      if (!place) return fail(problem('id', 'The element is gone, or is the template itself.'));
      const piece = pieceOf(tree, operation.id);
      const elements = { ...tree.elements };
      for (const id of Object.keys(piece.elements)) delete elements[id];
      elements[place.parent.id] = { ...place.parent, children: spliced(place.parent.children, place.index, 1) };
      return ok({
        tree: { ...tree, elements },
        inverse: { do: 'insert', parent: place.parent.id, index: place.index, piece },
      });
    }
    case 'move': {
      const place = parentOf(tree, operation.id);
      if (!place || !tree.elements[operation.parent])
        return fail(problem('id', 'The element, or the place to move it to, is gone.'));
      if (isWithin(tree, operation.parent, operation.id))
        return fail(problem('parent', 'An element cannot go into itself.'));
      const without = withElement(tree, { ...place.parent, children: spliced(place.parent.children, place.index, 1) });
      const target = without.elements[operation.parent] as Element;
      const index = Math.min(Math.max(0, operation.index), target.children.length);
      const moved = withElement(without, { ...target, children: spliced(target.children, index, 0, operation.id) });
      return ok({
        tree: moved,
        inverse: { do: 'move', id: operation.id, parent: place.parent.id, index: place.index },
      });
    }
    case 'replace':
      return ok({ tree: operation.tree, inverse: { do: 'replace', tree } });
    case 'put': {
      const element = tree.elements[operation.id];
      if (!element || !PUTTABLE.has(operation.at[0] as string))
        return fail(problem('id', 'The element to change is gone.'));
      const before = getAt(element, operation.at);
      const changed = putAt(element, operation.at, operation.value) as Element;
      if (
        operation.at.length === 1 &&
        operation.value === undefined &&
        (operation.at[0] === 'props' || operation.at[0] === 'slots')
      )
        changed[operation.at[0] as 'props' | 'slots'] = {};
      // Where the way to the place was missing, undoing takes the whole of it away again.
      const missing = operation.at.findIndex((_, i) => getAt(element, operation.at.slice(0, i + 1)) === undefined);
      const at = missing < 0 ? operation.at : operation.at.slice(0, missing + 1);
      return ok({ tree: withElement(tree, changed), inverse: { ...operation, at, value: before } });
    }
  }
}

/** Applies an edit as a whole or not at all; the inverse is again an edit, with the same label. */
export function applyEdit(tree: Tree, edit: Edit): Result<{ tree: Tree; inverse: Edit }> {
  const inverses: TreeOperation[] = [];
  for (const operation of edit.operations) {
    const applied = applyOperation(tree, operation);
    if (!applied.ok) return applied;
    tree = applied.value.tree;
    inverses.unshift(applied.value.inverse);
  }
  return ok({ tree, inverse: { label: edit.label, operations: inverses } });
}
