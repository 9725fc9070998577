import { elements } from '../elements';
import type { ElementKind } from '../elements/element';
import type { Path, ValueType } from '../paths/path';
import { misfit, startingTake } from '../render/slots';
import type { SlotValue } from './binding';
import { boundTo, pieceFrom, type Nested } from './build';
import { newId } from '../ids';
import type { Tree } from './template';
import type { Piece } from './tree';

/** A slot newly bound to a path, with the take that makes it fit. */
export function startBinding(path: Path, type: ValueType, shape: Parameters<typeof misfit>[1]): SlotValue {
  const take = startingTake(type, shape);
  return boundTo(path.from, path.steps, take ? { take } : {});
}

/**
 * The slot that a value goes into when it is dropped on an element: a required one that takes it, or else where the
 * element leads to. Other slots, such as alternative text, are bound by picking.
 */
export function slotFor(kind: ElementKind, type: ValueType): string | undefined {
  const slots = Object.entries(kind.slots).filter(([, slot]) => slot.required || slot.shape === 'url');
  slots.sort(([, a], [, b]) => Number(b.required ?? false) - Number(a.required ?? false));
  return slots.find(([, slot]) => !misfit(type, slot.shape, startingTake(type, slot.shape)))?.[0];
}

/** The element that a value brings along when it is put on the page: what shows a value of this type at its best. */
export function bringFor(path: Path, type: ValueType, tree: Tree): { piece: Piece; label: string } {
  const nested = nestedFor(path, type, tree);
  const label = elements.find((kind) => kind.name === nested.kind)?.label ?? nested.kind;
  return { piece: pieceFrom(nested), label };
}

function nestedFor(path: Path, type: ValueType, tree: Tree): Nested {
  const family = type.kind.family;
  if (family === 'relation' && type.many) {
    const id = newId('e');
    const item: Nested = {
      kind: 'heading',
      props: { level: 3, size: 's' },
      slots: { text: boundTo(`loop:${id}`, ['@title']), link: boundTo(`loop:${id}`, ['@address']) },
    };
    return { kind: 'loop', id, name: type.label, props: { source: { from: 'relation', path } }, children: [item] };
  }
  if (family === 'relation')
    return {
      kind: 'link',
      props: { look: 'plain' },
      slots: { label: startBinding(path, type, 'inline'), link: startBinding(path, type, 'url') },
    };
  if (family === 'link')
    return { kind: 'link', slots: { label: { fixed: type.label }, link: startBinding(path, type, 'url') } };
  if (path.steps.at(-1) === '@title' && !type.many) {
    // The page's own title is its first heading; every other title stands below it.
    const own = path.steps.length === 1 && !path.from.startsWith('loop:');
    const named = Object.values(tree.elements).some(
      (element) => element.kind === 'heading' && element.props.level === 1,
    );
    return {
      kind: 'heading',
      props: { level: own && !named ? 1 : 2 },
      slots: { text: startBinding(path, type, 'inline') },
    };
  }
  const kind =
    elements.find((one) => one.brings?.families.includes(family)) ?? elements.find((one) => one.name === 'text');
  const slot = kind?.brings?.slot ?? 'text';
  return {
    kind: kind?.name ?? 'text',
    slots: { [slot]: startBinding(path, type, kind?.slots[slot]?.shape ?? 'blocks') },
  };
}
