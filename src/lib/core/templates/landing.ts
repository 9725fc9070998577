import { elementNamed } from '../elements';
import { compileFormats, misfit, startingTake } from '../bindings/slots';
import type { ModelIndex } from '../model/model-index';
import { pathWords } from '../paths/built-ins';
import { compilePath } from '../paths/compile';
import type { Scopes, ValueType } from '../paths/scopes';
import { typeAfter } from '../paths/takes';
import { isYesNo, startingTest } from '../rules/operators';
import { relationOf } from '../model/field';
import { isDated } from '../addresses/patterns';
import { startOrder } from './start';
import type { SlotValue, Take } from '../schema/binding';
import type { Element, Tree } from '../schema/element';
import type { Path } from '../schema/path';
import type { Group } from '../schema/rule';
import type { Template } from '../schema/template';
import { bringFor, fittingTakes, otherWays, repeatFor, slotFor, startBinding, takeWords } from './bring';
import { newElementAt } from './build';
import type { TreeOperation } from './edits';
import { isWithin, parentOf, type Piece } from './tree';

/** What is carried: a value, a new element, or one that is moved. */
export type Load =
  | { what: 'value'; path: Path; type: ValueType; labelled?: boolean }
  | { what: 'new'; kind: string }
  | { what: 'move'; id: string };

export type LandingSide = 'before' | 'after' | 'inside' | 'onto';

/** One way in which something lands: its name as an edit, what it does, and what is selected then. */
export interface Drop {
  label: string;
  operations: TreeOperation[];
  select: string;
  /** Something new was placed. */
  placed?: boolean;
}

/** Where a load would land, and what that does, in words. */
export interface Landing {
  target: string;
  where: LandingSide;
  words: string;
  /** None where it is refused; `words` say why. */
  drop?: Drop;
  /** What is asked where there are several ways; else it is that the value is several. */
  asks?: string;
  /** Several ways to do it, to choose from once it has been dropped; the first is what `drop` does. */
  offers?: { words: string; drop: Drop }[];
}

/** What landing needs to know of a template. */
export interface DropContext {
  tree: Tree;
  index: ModelIndex;
  /** The content type that it is designed for. */
  typeId: string;
  /** The parts that may be placed, but for the template itself. */
  parts: readonly Pick<Template, 'id'>[];
  /** Whether it draws what is on one page alone, and no frame has the first heading of that. */
  heads?: boolean;
  /** What paths in an element may start from. */
  scopesAt(id: string): Scopes;
  /** The same for what stands in it, where it holds others. */
  scopesIn(id: string): Scopes;
  nameOf(id: string): string;
}

/** What dropping a load at an element does. `onto` falls back to a place beside it where nothing there takes the load. */
export function landingAt(ground: DropContext, load: Load, target: string, where: LandingSide): Landing | undefined {
  const element = ground.tree.elements[target];
  const kind = element && elementNamed(element.kind);
  if (!element || !kind) return undefined;
  if (where === 'onto' && load.what === 'value') {
    const landing = ontoLanding(ground, load, element);
    if (landing) return landing;
  }
  const spot = spotFor(ground.tree, target, where === 'onto' ? (kind.holds ? 'inside' : 'after') : where);
  if (!spot) return undefined;
  if (load.what === 'move') return moveLanding(ground, load.id, target, spot);
  return load.what === 'new' ? newLanding(ground, load.kind, target, spot) : valueLanding(ground, load, target, spot);
}

interface Spot {
  parent: string;
  index: number;
  where: LandingSide;
}

function spotFor(tree: Tree, target: string, where: Exclude<LandingSide, 'onto'>): Spot | undefined {
  const element = tree.elements[target];
  const place = parentOf(tree, target);
  if (!element) return undefined;
  if (where === 'inside' || !place)
    return elementNamed(element.kind)?.holds
      ? { parent: target, index: element.children.length, where: 'inside' }
      : undefined;
  return { parent: place.parent.id, index: place.index + (where === 'after' ? 1 : 0), where };
}

function moveLanding(
  ground: DropContext,
  id: string,
  target: string,
  { parent, index, where }: Spot,
): Landing | undefined {
  const { tree } = ground;
  if (id === target || isWithin(tree, parent, id)) return undefined;
  const from = parentOf(tree, id);
  const to = from && from.parent.id === parent && from.index < index ? index - 1 : index;
  const name = ground.nameOf(id);
  const operations: TreeOperation[] = [{ do: 'move', id, parent, index: to }];
  return { target, where, words: `Move ${name} here`, drop: { label: `Moved ${name}`, operations, select: id } };
}

/** A piece put at a place. */
const putting = (label: string, piece: Piece, { parent, index }: Pick<Spot, 'parent' | 'index'>): Drop => ({
  label,
  operations: [{ do: 'insert', parent, index, piece }],
  select: piece.top,
  placed: true,
});

function newLanding(ground: DropContext, kind: string, target: string, spot: Spot): Landing {
  const label = elementNamed(kind)?.label ?? kind;
  const { parent, where } = spot;
  const made = newElementAt(kind, recordScope(ground, parent));
  const begins = ground.heads && !ground.scopesIn(parent).loops.length && elementNamed(kind)?.startProps;
  if (begins) made.props = { ...made.props, ...begins(Object.values(ground.tree.elements)) };
  if (elementNamed(kind)?.loop) made.props = { ...made.props, ...startLoop(ground, parent) };
  const [first] = ground.parts;
  if (first && elementNamed(kind)?.controls.some((control) => control.as === 'part'))
    made.props = { ...made.props, part: first.id };
  const piece = { top: made.id, elements: { [made.id]: made } };
  return { target, where, words: `Put a ${label.toLowerCase()} here`, drop: putting(`Put ${label}`, piece, spot) };
}

function valueLanding(
  ground: DropContext,
  load: Extract<Load, { what: 'value' }>,
  target: string,
  spot: Spot,
): Landing {
  const { path, type } = load;
  const { parent, where } = spot;
  const scopes = ground.scopesIn(parent);
  if (!compilePath(path, scopes, ground.index).ok)
    return { target, where, words: 'This value cannot be reached from here' };
  const brought = bringFor(path, type, ground.tree, load.labelled);
  const as = brought.label.toLowerCase();
  const more = brought.labelled === undefined ? '' : brought.labelled ? ', with its label' : ' (Shift: with its label)';
  const drop = putting(`Put ${pathWords(path, ground.index)}`, brought.piece, spot);
  const landing: Landing = { target, where, words: `Put ${type.label} here, as a ${as}${more}`, drop };
  const others = otherWays(path, type);
  if (others.length) {
    landing.asks = `How should ${type.label} be shown?`;
    landing.offers = [
      { words: `As a ${as}`, drop },
      ...others.map(({ words, piece }) => ({
        words,
        drop: putting(`Put ${pathWords(path, ground.index)}`, piece, spot),
      })),
    ];
    return landing;
  }
  // A relation of several on the way to one value each: the value once, or once for each of them.
  const repeated = type.many && path.steps.length > 1 ? repeating(ground, path, type, scopes) : undefined;
  if (repeated && repeated.label !== brought.label)
    landing.offers = [
      { words: `All of them, as one ${as}`, drop },
      {
        words: `Repeat over them, as a ${repeated.label.toLowerCase()}`,
        drop: putting(`Repeated over ${type.label}`, repeated.piece, spot),
      },
    ];
  return landing;
}

function ontoLanding(
  ground: DropContext,
  { path, type }: Extract<Load, { what: 'value' }>,
  element: Element,
): Landing | undefined {
  const kind = elementNamed(element.kind);
  const scopes = ground.scopesAt(element.id);
  if (!kind || !compilePath(path, scopes, ground.index).ok) return undefined;
  const asked = isYesNo(type) ? ruleLanding(ground, path, type, element) : undefined;
  const slot = slotFor(kind, type);
  const definition = slot ? kind.slots[slot] : undefined;
  // What is answered by yes or no says when something appears; words that were written stay.
  const written = slot && element.slots[slot] && !('bound' in element.slots[slot]) && !isBlank(element.slots[slot]);
  if (asked && (!slot || written)) return asked;
  if (!slot || !definition || misfit(type, definition.shape, startingTake(type, definition.shape))) return undefined;
  const bind = (take?: Take) => bindingSlot(ground, element.id, slot, path, type, take);
  const landing: Landing = {
    target: element.id,
    where: 'onto',
    words: `Bind ${definition.label.toLowerCase()} of ${ground.nameOf(element.id)} to ${type.label}`,
    drop: bind(),
  };
  if (asked?.drop && landing.drop) {
    landing.offers = [
      { words: asked.words, drop: asked.drop },
      { words: landing.words, drop: landing.drop },
    ];
    return { ...landing, words: asked.words, drop: asked.drop, asks: `What should ${type.label} do here?` };
  }
  const repeated = element.id === ground.tree.root ? undefined : repeatInPlace(ground, element.id, path, type);
  const takes = fittingTakes(type, definition.shape);
  if (type.many && takes.length && repeated?.name !== kind.label)
    landing.offers = [
      ...takes.flatMap((take) => {
        const drop = bind(take);
        return drop ? [{ words: takeWords(take), drop }] : [];
      }),
      ...(repeated
        ? [
            {
              words: `Repeat over them, as a ${repeated.name.toLowerCase()}`,
              drop: { label: `Repeated over ${type.label}`, ...repeated },
            },
          ]
        : []),
    ];
  return landing;
}

const isBlank = (slot: SlotValue): boolean => 'fixed' in slot && slot.fixed === '';

/** A test of the value among those by which the element appears. */
function ruleLanding(ground: DropContext, path: Path, type: ValueType, element: Element): Landing {
  const name = ground.nameOf(element.id);
  const words = `${name} appears only where ${type.label} is yes`;
  const test = startingTest(path, type);
  const before = element.rule;
  // Beside what is asked already it has to hold as well.
  const value: Group = !before?.rules.length
    ? { group: 'all', rules: [test] }
    : before.group === 'all'
      ? { ...before, rules: [...before.rules, test] }
      : { group: 'all', rules: [before, test] };
  const operations: TreeOperation[] = [{ do: 'put', id: element.id, at: ['rule'], value }];
  return { target: element.id, where: 'onto', words, drop: { label: words, operations, select: element.id } };
}

/** Binds a slot to a path; words around a value, its fallbacks, and formats that still fit stay as they were. */
export function bindingSlot(
  { tree, index, scopesAt, nameOf }: Pick<DropContext, 'tree' | 'index' | 'scopesAt' | 'nameOf'>,
  id: string,
  slot: string,
  path: Path,
  type: ValueType,
  take?: Take,
): Drop | undefined {
  const element = tree.elements[id];
  const definition = element && elementNamed(element.kind)?.slots[slot];
  if (!definition) return undefined;
  const before = element.slots[slot];
  const started = startBinding(path, type, definition.shape, take);
  let value = started;
  if (before && 'bound' in before && 'bound' in started) {
    const after = typeAfter(type, started.bound.take);
    const { problems } = compileFormats(before.bound.formats, after, scopesAt(id), index);
    const formats = before.bound.formats.filter((_, i) => !problems.some((p) => p.at === `formats.${i}`));
    value = { bound: { ...before.bound, path, take: started.bound.take, formats } };
  }
  return {
    label: `Bound ${definition.label.toLowerCase()} of ${nameOf(id)} to ${pathWords(path, index)}`,
    operations: [{ do: 'put', id, at: ['slots', slot], value }],
    select: id,
  };
}

/** What repeats over the values at a path; undefined where there is one. */
export const repeating = (
  { index }: Pick<DropContext, 'index'>,
  path: Path,
  type: ValueType,
  scopes: Scopes,
): { piece: Piece; label: string } | undefined =>
  repeatFor(path, type, {
    leadsToSeveral: (part) => {
      const made = compilePath(part, scopes, index);
      return made.ok && made.value.type.many && made.value.type.kind.family.leads === 'record';
    },
  });

/** Puts what repeats over the values at a path in the place of an element, with its name, rule and looks. */
export function repeatInPlace(
  ground: Pick<DropContext, 'tree' | 'index' | 'scopesAt'>,
  id: string,
  path: Path,
  type: ValueType,
): { operations: TreeOperation[]; select: string; name: string } | undefined {
  const place = parentOf(ground.tree, id);
  const element = ground.tree.elements[id];
  const made = repeating(ground, path, type, ground.scopesAt(id));
  const top = made?.piece.elements[made.piece.top];
  if (!place || !element || !made || !top) return undefined;
  const { name, rule, style, css } = element;
  const kept: Element = { ...top, name: name ?? top.name, rule, style, css };
  const piece: Piece = { ...made.piece, elements: { ...made.piece.elements, [top.id]: kept } };
  return {
    operations: [
      { do: 'remove', id },
      { do: 'insert', parent: place.parent.id, index: place.index, piece },
    ],
    select: piece.top,
    name: made.label,
  };
}

/** From where built-in values of a record can be read at a place: the innermost loop, or the page's record. */
function recordScope(ground: DropContext, parent: string): string | undefined {
  const { loops, recordTypeIds } = ground.scopesIn(parent);
  const inner = loops.at(-1);
  return inner ? `loop:${inner.id}` : recordTypeIds ? 'record' : undefined;
}

/**
 * What a new loop goes over, in which order: the archive where there is one, else all records of one type: the first that
 * those of the page are related to, or the first other one.
 */
export function startLoop(
  { tree, index, typeId, scopesIn }: Pick<DropContext, 'tree' | 'index' | 'typeId' | 'scopesIn'>,
  parent: string,
): Record<string, unknown> {
  const scopes = scopesIn(parent);
  const overArchive = Object.values(tree.elements).some(
    ({ props }) => (props.source as { from?: string } | undefined)?.from === 'archive',
  );
  if (scopes.archive && !scopes.loops.length && !overArchive) {
    const types = scopes.archive.typeIds.flatMap((id) => index.type(id) ?? []);
    return { source: { from: 'archive' }, ...(types.length && types.every(isDated) && { order: startOrder(types) }) };
  }
  const own = index.type(typeId);
  const related = own?.fields.flatMap((field) => relationOf(field)?.typeIds ?? []) ?? [];
  const type =
    index.types.find(({ id }) => id !== typeId && related.includes(id)) ??
    index.types.find(({ id }) => id !== typeId) ??
    own;
  return {
    source: { from: 'query', typeIds: type ? [type.id] : [] },
    ...(type && isDated(type) && { order: startOrder([type]) }),
  };
}
