import { z } from 'zod';
import { elementNamed } from '../elements';
import { fail, ok, problem, problemsOf, type Result } from '../base/result';
import { newElement } from './build';
import type { TreeOperation } from './edits';
import { ElementSchema, type Element, type Tree } from '../schema/element';
import { MAX_ELEMENTS, type Purpose } from '../schema/template';
import { parseTree } from './parse';
import { freshPiece, parentOf, pieceOf, walk, type Piece } from './tree';

/** Elements of which none stands in another of them, in reading order; the root is never among them. */
export function topmost(tree: Tree, ids: readonly string[]): string[] {
  const chosen = new Set(ids.filter((id) => id !== tree.root));
  return walk(tree)
    .filter(({ element, above }) => chosen.has(element.id) && !above.some((id) => chosen.has(id)))
    .map(({ element }) => element.id);
}

/** Puts elements into a new one, which stands where the first of them stood. */
export function wrapping(
  tree: Tree,
  ids: readonly string[],
  kind: string,
): { operations: TreeOperation[]; id: string } | undefined {
  const chosen = topmost(tree, ids);
  const place = chosen[0] ? parentOf(tree, chosen[0]) : undefined;
  if (!place || !elementNamed(kind)?.holds) return undefined;
  const holder = newElement(kind);
  return {
    id: holder.id,
    operations: [
      {
        do: 'insert',
        parent: place.parent.id,
        index: place.index,
        piece: { top: holder.id, elements: { [holder.id]: holder } },
      },
      ...chosen.map((id, index): TreeOperation => ({ do: 'move', id, parent: holder.id, index })),
    ],
  };
}

/** Takes an element away and leaves what it holds in its place. */
export function unwrapping(tree: Tree, id: string): TreeOperation[] | undefined {
  const place = parentOf(tree, id);
  const element = tree.elements[id];
  if (!place || !element?.children.length) return undefined;
  return [
    ...element.children.map((child, i): TreeOperation => ({
      do: 'move',
      id: child,
      parent: place.parent.id,
      index: place.index + i,
    })),
    { do: 'remove', id },
  ];
}

/** What is copied stands on the clipboard as plain JSON under this name. */
const ClipSchema = z.strictObject({
  plumThread: z.literal('elements'),
  version: z.literal(1),
  pieces: z
    .array(z.strictObject({ top: z.string().max(60), elements: z.record(z.string(), ElementSchema) }))
    .min(1)
    .max(200),
});

export function clipOf(tree: Tree, ids: readonly string[]): string {
  const pieces = topmost(tree, ids).map((id) => pieceOf(tree, id));
  return JSON.stringify({ plumThread: 'elements', version: 1, pieces }, null, 1);
}

const MOST_TEXT = 5_000_000;

/**
 * Elements from the text of a clipboard, under fresh ids. Everything is checked as a template is: kinds, settings, slots,
 * looks and shape; what is not ours or does not hold together is refused with words.
 */
export function piecesFrom(text: string, purpose: Purpose): Result<Piece[]> {
  const not = (what: string, fix?: string) => fail(problem('clipboard', what, fix));
  if (text.length > MOST_TEXT) return not('What was copied is too large to be elements.', 'Copy fewer elements.');
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return not('What was copied are no elements of a template.', 'Copy an element first.');
  }
  const clip = ClipSchema.safeParse(json);
  if (!clip.success)
    return typeof json === 'object' && json !== null && 'plumThread' in json
      ? fail(...problemsOf(clip.error, 'clipboard'))
      : not('What was copied are no elements of a template.', 'Copy an element first.');
  const pieces: Piece[] = [];
  let count = 0;
  for (const piece of clip.data.pieces) {
    const tree = parseTree({ root: piece.top, elements: piece.elements });
    if (!tree.ok) return tree;
    const all = Object.values(tree.value.elements);
    count += all.length;
    const stray = all.find((element: Element) => {
      const only = elementNamed(element.kind)?.only;
      return only && !only.includes(purpose);
    });
    if (stray) return not(`${elementNamed(stray.kind)?.label ?? stray.kind} cannot stand in this template.`);
    pieces.push(freshPiece({ top: piece.top, elements: tree.value.elements }));
  }
  if (count > MAX_ELEMENTS) return not(`A template has ${MAX_ELEMENTS} elements at most; this would bring ${count}.`);
  return ok(pieces);
}
