import { elementNamed } from '$lib/core/elements';
import { compilePath } from '$lib/core/paths/compile';
import type { Path } from '$lib/core/schema/path';
import type { ValueType } from '$lib/core/paths/scopes';
import { pathWords } from '$lib/core/paths/built-ins';
import { compileFormats, misfit, startingTake } from '$lib/core/bindings/slots';
import { typeAfter } from '$lib/core/paths/takes';
import { bringFor, fittingTakes, slotFor, startBinding, takeWords } from '$lib/core/templates/bring';
import type { Take } from '$lib/core/schema/binding';
import { newElementAt } from '$lib/core/templates/build';
import { isWithin, parentOf } from '$lib/core/templates/tree';
import type { Workbench } from './workbench.svelte';

/** What is being carried: a value from the shelf, a new element, or one that is moved. */
export type Load =
  | { what: 'value'; path: Path; type: ValueType; labelled?: boolean }
  | { what: 'new'; kind: string }
  | { what: 'move'; id: string };

export type Where = 'before' | 'after' | 'inside' | 'onto';

/** Where a load would land, and what that does, in words. */
export interface Landing {
  target: string;
  where: Where;
  words: string;
  refused?: boolean;
  run(): void;
  /** Several ways to do it, to choose from once it has been dropped; the first is what `run` does. */
  offers?: { words: string; run(): void }[];
}

export interface Surface {
  /** The landing at a point of the window, or undefined where the point is not on this surface. */
  at(x: number, y: number, load: Load): Landing | undefined;
}

const THRESHOLD = 4;

export class Drag {
  load: Load | undefined = $state.raw();
  x = $state(0);
  y = $state(0);
  landing: Landing | undefined = $state.raw();
  /** Whether a value is to come with its label before it. */
  labelled = false;
  /** Dropped, and waiting for the way to be chosen. */
  asking: { x: number; y: number; offers: NonNullable<Landing['offers']> } | undefined = $state.raw();
  private surfaces = new Set<Surface>();

  register(surface: Surface): () => void {
    this.surfaces.add(surface);
    return () => this.surfaces.delete(surface);
  }

  /** Begins carrying once the pointer has moved a little; a press without a move stays a click. */
  press(event: PointerEvent, load: () => Load): void {
    if (event.button !== 0) return;
    const from = { x: event.clientX, y: event.clientY };
    const stop = new AbortController();
    const end = () => {
      stop.abort();
      this.load = undefined;
      this.landing = undefined;
    };
    const options = { signal: stop.signal };
    window.addEventListener(
      'pointermove',
      (move) => {
        if (!this.load && Math.hypot(move.clientX - from.x, move.clientY - from.y) < THRESHOLD) return;
        this.load ??= load();
        move.preventDefault();
        this.labelled = move.shiftKey;
        this.x = move.clientX;
        this.y = move.clientY;
        this.landing = this.find(this.load);
      },
      options,
    );
    window.addEventListener(
      'pointerup',
      () => {
        const landing = this.landing;
        const carried = this.load !== undefined;
        end();
        if (!carried) return;
        // The click that ends a drag, if there is one, is not one on what lies below; the next one is.
        const ending = new AbortController();
        window.addEventListener('click', (click) => click.stopPropagation(), { capture: true, signal: ending.signal });
        setTimeout(() => ending.abort(), 0);
        if (!landing || landing.refused) return;
        if (landing.offers && landing.offers.length > 1) this.asking = { x: this.x, y: this.y, offers: landing.offers };
        else landing.run();
      },
      options,
    );
    window.addEventListener('keydown', (key) => key.key === 'Escape' && end(), options);
    window.addEventListener('pointercancel', end, options);
  }

  private find(load: Load): Landing | undefined {
    for (const surface of this.surfaces) {
      const landing = surface.at(this.x, this.y, load.what === 'value' ? { ...load, labelled: this.labelled } : load);
      if (landing) return landing;
    }
    return undefined;
  }
}

/** What dropping a load at an element does. `onto` falls back to a place beside it where nothing there takes the load. */
export function landingAt(wb: Workbench, load: Load, target: string, where: Where): Landing | undefined {
  const element = wb.element(target);
  const kind = element && elementNamed(element.kind);
  if (!element || !kind) return undefined;
  if (where === 'onto' && load.what === 'value') {
    const landing = ontoLanding(wb, load, target);
    if (landing) return landing;
  }
  const spot = spotFor(wb, target, where === 'onto' ? (kind.holds ? 'inside' : 'after') : where);
  if (!spot) return undefined;
  const { parent, index } = spot;
  const base = { target, where: spot.where };

  if (load.what === 'move') {
    if (load.id === target || isWithin(wb.tree, parent, load.id)) return undefined;
    const from = parentOf(wb.tree, load.id);
    const to = from && from.parent.id === parent && from.index < index ? index - 1 : index;
    return {
      ...base,
      words: `Move ${wb.nameOf(load.id)} here`,
      run: () => wb.edit(`Moved ${wb.nameOf(load.id)}`, { do: 'move', id: load.id, parent, index: to }),
    };
  }
  if (load.what === 'new') {
    const label = elementNamed(load.kind)?.label ?? load.kind;
    return {
      ...base,
      words: `Put a ${label.toLowerCase()} here`,
      run: () => {
        const made = newElementAt(load.kind, recordScope(wb, parent));
        if (load.kind === 'loop') made.props = { ...made.props, source: startSource(wb, parent) };
        if (load.kind === 'part') {
          const first = wb.parts.find((part) => part.id !== wb.template.id);
          if (first) made.props = { ...made.props, part: first.id };
        }
        wb.insert(`Put ${label}`, { top: made.id, elements: { [made.id]: made } }, parent, index);
      },
    };
  }
  const made = compilePath(load.path, wb.scopesIn(parent), wb.index);
  if (!made.ok) return { ...base, refused: true, words: 'This value cannot be reached from here', run: () => {} };
  const brought = bringFor(load.path, load.type, wb.tree, load.labelled);
  const put = () => wb.insert(`Put ${pathWords(load.path, wb.index)}`, brought.piece, parent, index);
  const landing: Landing = {
    ...base,
    words: `Put ${load.type.label} here, as a ${brought.label.toLowerCase()}${brought.labelled === undefined ? '' : brought.labelled ? ', with its label' : ' (Shift: with its label)'}`,
    run: put,
  };
  // A relation of several on the way to one value each: the value once, or once for each of them.
  const repeated =
    load.type.many && load.path.steps.length > 1 ? wb.repeating(load.path, load.type, wb.scopesIn(parent)) : undefined;
  if (repeated && repeated.label !== brought.label)
    landing.offers = [
      { words: `All of them, as one ${brought.label.toLowerCase()}`, run: put },
      {
        words: `Repeat over them, as a ${repeated.label.toLowerCase()}`,
        run: () => wb.insert(`Repeated over ${load.type.label}`, repeated.piece, parent, index),
      },
    ];
  return landing;
}

/** From where built-in values of a record can be read at a place: the innermost loop, or the page's record. */
function recordScope(wb: Workbench, parent: string): string | undefined {
  const { loops, recordTypeIds } = wb.scopesIn(parent);
  const inner = loops.at(-1);
  return inner ? `loop:${inner.id}` : recordTypeIds ? 'record' : undefined;
}

function ontoLanding(wb: Workbench, load: Extract<Load, { what: 'value' }>, target: string): Landing | undefined {
  const element = wb.element(target);
  const kind = element && elementNamed(element.kind);
  const scopes = wb.compiledOf(target)?.scopes;
  if (!kind || !scopes || !compilePath(load.path, scopes, wb.index).ok) return undefined;
  const slot = slotFor(kind, load.type);
  const definition = slot ? kind.slots[slot] : undefined;
  if (!slot || !definition || misfit(load.type, definition.shape, startingTake(load.type, definition.shape)))
    return undefined;
  const bind = (take?: Take) => bindSlot(wb, target, slot, load.path, load.type, take);
  const landing: Landing = {
    target,
    where: 'onto',
    words: `Bind ${definition.label.toLowerCase()} of ${wb.nameOf(target)} to ${load.type.label}`,
    run: () => bind(),
  };
  const repeated = target === wb.tree.root ? undefined : wb.repeating(load.path, load.type, scopes);
  const takes = fittingTakes(load.type, definition.shape);
  if (load.type.many && takes.length && !(repeated?.label === kind.label))
    landing.offers = [
      ...takes.map((take) => ({ words: takeWords(take), run: () => bind(take) })),
      ...(repeated
        ? [
            {
              words: `Repeat over them, as a ${repeated.label.toLowerCase()}`,
              run: () => wb.repeatInPlace(target, load.path, load.type),
            },
          ]
        : []),
    ];
  return landing;
}

/** Binds a slot to a path; words around a value, its fallbacks, and formats that still fit stay as they were. */
export function bindSlot(wb: Workbench, id: string, slot: string, path: Path, type: ValueType, take?: Take): void {
  const element = wb.element(id);
  const definition = element && elementNamed(element.kind)?.slots[slot];
  if (!definition) return;
  const before = element.slots[slot];
  const started = startBinding(path, type, definition.shape, take);
  let value = started;
  if (before && 'bound' in before && 'bound' in started) {
    const { problems } = compileFormats(
      before.bound.formats,
      typeAfter(type, started.bound.take),
      wb.scopesAt(id),
      wb.index,
    );
    const formats = before.bound.formats.filter((_, i) => !problems.some((p) => p.at === `formats.${i}`));
    value = { bound: { ...before.bound, path, take: started.bound.take, formats } };
  }
  wb.edit(`Bound ${definition.label.toLowerCase()} of ${wb.nameOf(id)} to ${pathWords(path, wb.index)}`, {
    do: 'put',
    id,
    at: ['slots', slot],
    value,
  });
  wb.selected = id;
}

/** What a new loop goes over: the archive where there is one, else all records of the first other type. */
export function startSource(wb: Workbench, parent: string): Record<string, unknown> {
  const scopes = wb.scopesIn(parent);
  if (
    scopes.archive &&
    !scopes.loops.length &&
    !wb.rows.some(({ element }) => (element.props.source as { from?: string } | undefined)?.from === 'archive')
  )
    return { from: 'archive' };
  return { from: 'query', typeIds: [wb.model.types.find((type) => type.id !== wb.typeId)?.id ?? wb.typeId] };
}

function spotFor(
  wb: Workbench,
  target: string,
  where: Exclude<Where, 'onto'>,
): { parent: string; index: number; where: Where } | undefined {
  const element = wb.element(target);
  const place = parentOf(wb.tree, target);
  if (!element) return undefined;
  if (where === 'inside' || !place)
    return elementNamed(element.kind)?.holds
      ? { parent: target, index: element.children.length, where: 'inside' }
      : undefined;
  return { parent: place.parent.id, index: place.index + (where === 'after' ? 1 : 0), where };
}
