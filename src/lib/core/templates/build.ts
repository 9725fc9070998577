import { newId } from '../base/ids';
import { elementNamed } from '../elements';
import type { SlotValue } from '../schema/binding';
import type { Element, Tree } from '../schema/element';
import type { Piece } from './tree';

/** A new element of a kind, as it starts out. */
export function newElement(kindName: string, given: Partial<Omit<Element, 'id' | 'kind'>> = {}): Element {
  const kind = elementNamed(kindName);
  if (!kind) throw new Error(`There is no element named ${kindName}`);
  return {
    kind: kindName,
    children: [],
    ...given,
    id: newId('e'),
    props: kind.props.parse(given.props ?? {}) as Record<string, unknown>,
    slots: { ...kind.starts, ...given.slots },
  };
}

/** A new element where there is a record to read from: slots that begin with one of its built-in values are bound. */
export function newElementAt(kindName: string, from: string | undefined): Element {
  const kind = elementNamed(kindName);
  const starts = from ? Object.entries(kind?.startsWith ?? {}) : [];
  return newElement(kindName, {
    slots: Object.fromEntries(
      starts.map(([slot, step]) => [
        slot,
        boundTo(from as string, [step], { formats: kind?.startFormats?.[slot] ?? [] }),
      ]),
    ),
  });
}

export interface Nested extends Partial<Omit<Element, 'id' | 'children'>> {
  kind: string;
  /** A given id, where paths of other elements name it. */
  id?: string;
  children?: Nested[];
}

/** A piece from a nested description; what is left out is as an element starts. */
export function pieceFrom(nested: Nested): Piece {
  const { children = [], id, kind, ...given } = nested;
  const pieces = children.map(pieceFrom);
  const element: Element = { ...newElement(kind, given), children: pieces.map((piece) => piece.top) };
  if (id) element.id = id;
  return {
    top: element.id,
    elements: Object.assign({ [element.id]: element }, ...pieces.map((piece) => piece.elements)) as Piece['elements'],
  };
}

export function treeFrom(nested: Nested): Tree {
  const { top, elements } = pieceFrom(nested);
  return { root: top, elements };
}

/** A bound slot, short. */
export function boundTo(
  from: string,
  steps: string[],
  more: Partial<Extract<SlotValue, { bound: unknown }>['bound']> = {},
): SlotValue {
  return { bound: { path: { from, steps }, fallbacks: [], formats: [], before: '', after: '', ...more } };
}

/** A template's tree before anything is placed. */
export const blankTree = (): Tree => treeFrom({ kind: 'box', name: 'Page', props: { gap: 'l' } });
