import { fieldsIn } from '../model/settings';
import { elements } from '../elements';
import type { ElementKind } from '../elements/element';
import type { ShownAs } from '../model/family';
import { roleOf } from '../model/kinds/kind';
import { kindOf } from '../model/model';
import { newId } from '../base/ids';
import type { Path } from '../schema/path';
import type { ValueType } from '../paths/scopes';
import { misfit, startingTake, type SlotShape } from '../bindings/slots';
import type { SlotValue, Take } from '../schema/binding';
import { boundTo, pieceFrom, type Nested } from './build';
import { TAKE_LABELS, takesFor } from '../paths/takes';
import type { Tree } from '../schema/element';
import type { Piece } from './tree';

/** A slot newly bound to a path, with the take that makes it fit. */
export function startBinding(
  path: Path,
  type: ValueType,
  shape: SlotShape,
  take = startingTake(type, shape),
): SlotValue {
  return boundTo(path.from, path.steps, take ? { take } : {});
}

/** The takes with which a value of several fits a slot, the best first. */
export function fittingTakes(type: ValueType, shape: SlotShape): Take[] {
  const start = startingTake(type, shape);
  const fit = takesFor(type).filter((take) => !misfit(type, shape, take));
  return start && fit.includes(start) ? [start, ...fit.filter((take) => take !== start)] : fit;
}

/**
 * The slot that a value goes into when it is dropped on an element: a required one that takes it, or else where the
 * element leads to. Other slots, such as alternative text, are bound by picking.
 */
export function slotFor(kind: ElementKind, type: ValueType): string | undefined {
  const slots = Object.entries(kind.slots).filter(([, slot]) => slot.drops ?? (slot.required || slot.shape === 'url'));
  slots.sort(([, a], [, b]) => Number(b.required ?? false) - Number(a.required ?? false));
  return slots.find(
    ([, slot]) =>
      !misfit(type, slot.shape, startingTake(type, slot.shape)) &&
      // A picture can be led to; one that is dropped is meant to be seen.
      !(slot.shape === 'url' && type.kind.family.slots.includes('picture')),
  )?.[0];
}

/**
 * The element that a value brings along when it is put on the page: what shows a value of this type at its best. One
 * that is written in a text may come with its label before it, which goes with an empty value; `labelled` says whether
 * it does, and is undefined where it makes no sense.
 */
export function bringFor(
  path: Path,
  type: ValueType,
  tree: Tree,
  labelled = false,
): { piece: Piece; label: string; labelled?: boolean } {
  const nested = nestedFor(path, type, tree);
  const slot = nested.kind === 'text' ? nested.slots?.text : undefined;
  if (!slot || !('bound' in slot)) return made(nested);
  const before = labelled ? `${type.label.split(' → ').at(-1) ?? type.label}: ` : '';
  return { ...made({ ...nested, slots: { text: { bound: { ...slot.bound, before } } } }), labelled };
}

const made = (nested: Nested): { piece: Piece; label: string } => ({
  piece: pieceFrom(nested),
  label: elements.find((kind) => kind.name === nested.kind)?.label ?? nested.kind,
});

/**
 * What repeats over the several values at a path: a loop over the records that they belong to, or an element that
 * shows them all. Undefined where the path has one value.
 */
export function repeatFor(
  path: Path,
  type: ValueType,
  model: RelationFinder,
): { piece: Piece; label: string } | undefined {
  if (!type.many) return undefined;
  const role = roleOf(type.kind, true);
  if (role === 'loop') return made(loopOver(path, type.label, []));
  const element = broughtBy(role);
  // What shows words has one of them for each turn; what shows several shows them all.
  if (element?.brings && element.slots[element.brings.slot]?.shape !== 'blocks' && SHOWS_SEVERAL.has(role))
    return made({ kind: element.name, slots: { [element.brings.slot]: boundTo(path.from, path.steps) } });
  // The last relation of several on the way is what there is one turn for.
  const at = path.steps.findLastIndex((_, i) =>
    model.leadsToSeveral({ from: path.from, steps: path.steps.slice(0, i + 1) }),
  );
  const rest = path.steps.slice(at + 1);
  if (at < 0 || !rest.length) return made({ kind: 'list', slots: { items: boundTo(path.from, path.steps) } });
  return made(
    loopOver({ from: path.from, steps: path.steps.slice(0, at + 1) }, type.label.split(' → ')[at] ?? 'Loop', rest),
  );
}

/** What the caller knows of the model: whether a path ends at a relation of several records. */
export interface RelationFinder {
  leadsToSeveral(path: Path): boolean;
}

function loopOver(path: Path, name: string, shown: string[]): Nested {
  const id = newId('e');
  const at = `loop:${id}`;
  const item: Nested = shown.length
    ? { kind: 'text', slots: { text: boundTo(at, shown) } }
    : {
        kind: 'heading',
        props: { level: 3, size: 's' },
        slots: { text: boundTo(at, ['@title']), link: boundTo(at, ['@address']) },
      };
  return { kind: 'loop', id, name, props: { source: { from: 'relation', path } }, children: [item] };
}

/** One way to make a value of several fit a slot that takes one: a take, by name. */
export const takeWords = (take: Take): string =>
  take === 'listed'
    ? 'All of them, listed'
    : take === 'count'
      ? 'How many there are'
      : `The ${TAKE_LABELS[take].toLowerCase()}`;

/** Roles of several values that are shown together by one element. */
const SHOWS_SEVERAL: ReadonlySet<ShownAs> = new Set(['pictures', 'rows', 'terms', 'map']);

const broughtBy = (role: ShownAs): ElementKind | undefined => elements.find((one) => one.brings?.roles.includes(role));

/** The words of a link, or the name of its field where it has none. */
function wordsOf(path: Path, type: ValueType, name: string): SlotValue {
  if (type.many || !type.kind.family.formats.includes('address')) return { fixed: name };
  return boundTo(path.from, path.steps, {
    formats: [{ format: 'link', options: { part: 'words' } }],
    fallbacks: [{ text: name }],
  });
}

/** Other ways in which a value may be shown than the one that it brings, in words: a place is a map, or is written. */
export function otherWays(path: Path, type: ValueType): { words: string; piece: Piece }[] {
  const role = roleOf(type.kind, type.many);
  const { slots } = type.kind.family;
  if (role === 'map' && slots.includes('blocks'))
    return [
      { words: 'In words', piece: made({ kind: 'text', slots: { text: startBinding(path, type, 'blocks') } }).piece },
    ];
  if (role === 'rows') return [{ words: 'Repeat over them, as cards', piece: made(cardsOver(path, type)).piece }];
  return [];
}

/** A card for each of several rows: their pictures, the first words as a heading, and everything else with its name. */
function cardsOver(path: Path, type: ValueType): Nested {
  const id = newId('e');
  const at = `loop:${id}`;
  const fields = fieldsIn(type.settings).flatMap((field) => {
    const known = kindOf(field);
    return known ? [{ field, role: roleOf(known.kind, known.many) }] : [];
  });
  const pictures = fields.filter(({ role }) => role === 'picture');
  const [head] = fields.filter(({ role }) => role === 'words');
  const rest = fields.filter((one) => one !== head && !pictures.includes(one) && one.role !== 'rows');
  const card: Nested = {
    kind: 'box',
    name: 'Card',
    props: { gap: 's' },
    style: { wide: { ground: 'tint', padding: 'm', radius: 'm' } },
    children: [
      ...pictures.map(({ field }) => ({ kind: 'picture', slots: { source: boundTo(at, [field.id]) } })),
      ...(head ? [{ kind: 'heading', props: { level: 3 }, slots: { text: boundTo(at, [head.field.id]) } }] : []),
      ...rest.map(({ field }) => ({
        kind: 'text',
        name: field.label,
        slots: { text: boundTo(at, [field.id], { before: `${field.label}: ` }) },
      })),
    ],
  };
  return {
    kind: 'loop',
    id,
    name: type.label.split(' → ').at(-1) ?? type.label,
    props: { source: { from: 'values', path }, arrange: 'grid', columns: 3 },
    children: [card],
  };
}

function nestedFor(path: Path, type: ValueType, tree: Tree): Nested {
  const bind = (shape: SlotShape) => startBinding(path, type, shape);
  const lastLabel = type.label.split(' → ').at(-1) ?? type.label;
  const step = path.steps.at(-1);
  const role = roleOf(type.kind, type.many);
  if (role === 'loop') return loopOver(path, type.label, []);
  if (step === '@address') {
    // An address brings the title of what it leads to.
    const title = { from: path.from, steps: [...path.steps.slice(0, -1), '@title'] };
    return { kind: 'link', slots: { label: startBinding(title, type, 'inline'), link: bind('url') } };
  }
  if (step === '@title' && !type.many) {
    // The page's own title is its first heading; every other title stands below it.
    const own = path.steps.length === 1 && !path.from.startsWith('loop:');
    const named = Object.values(tree.elements).some(
      (element) => element.kind === 'heading' && element.props.level === 1,
    );
    return { kind: 'heading', props: { level: own && !named ? 1 : 2 }, slots: { text: bind('inline') } };
  }
  const kind = broughtBy(role) ?? (broughtBy('words') as ElementKind);
  const { slot, words } = kind.brings as NonNullable<ElementKind['brings']>;
  const shape = kind.slots[slot]?.shape ?? 'blocks';
  return {
    kind: kind.name,
    slots: {
      ...(words && { [words.slot]: words.as === 'name' ? wordsOf(path, type, lastLabel) : bind('inline') }),
      [slot]: shape === 'list' ? boundTo(path.from, path.steps) : bind(shape),
    },
  };
}
