import { tick } from 'svelte';
import type { Attachment } from 'svelte/attachments';
import { Carry, type At } from './carry.svelte';

/** The gap of a list that a point is nearest to, from 0 to the number of items; items may stand beside each other. */
export function gapAt(boxes: readonly { left: number; top: number; right: number; bottom: number }[], at: At): number {
  const across = boxes.some((box, i) =>
    boxes.some((other, j) => j > i && other.top < box.bottom && other.bottom > box.top),
  );
  let best = 0;
  let least = Infinity;
  for (const [i, box] of boxes.entries()) {
    const aside = Math.max(box.left - at.x, 0, at.x - box.right);
    const off = Math.max(box.top - at.y, 0, at.y - box.bottom);
    // Items of the same line are nearer than those of another.
    const distance = off * 1000 + aside;
    if (distance >= least) continue;
    least = distance;
    const isPast = across ? at.x > (box.left + box.right) / 2 : at.y > (box.top + box.bottom) / 2;
    best = i + (isPast ? 1 : 0);
  }
  return best;
}

/** The items with one of them moved to a gap between the others. */
export function moved<T>(items: readonly T[], from: number, gap: number): T[] {
  const rest = items.filter((_, i) => i !== from);
  rest.splice(gap > from ? gap - 1 : gap, 0, ...items.slice(from, from + 1));
  return rest;
}

/** The order of a list, changed by carrying its items by their grips, or by key. */
export class ListOrder {
  private readonly carry = new Carry<number, number>((gap, from) => this.move(from, gap));
  /** The item that was taken up by key, and follows the arrows until it is put down. */
  private held: number | undefined = $state();

  constructor(
    private readonly count: () => number,
    /** Moves the item at a place to a gap between the items. */
    private readonly move: (from: number, gap: number) => void,
  ) {}

  /** For the list itself, whose children are the items. */
  readonly list: Attachment<HTMLElement> = (element) =>
    this.carry.surface((at) =>
      gapAt(
        [...element.children].map((item) => item.getBoundingClientRect()),
        at,
      ),
    )(element);

  /** For the grip of an item. */
  grip(at: () => number): Attachment<HTMLElement> {
    return (element) => {
      const unmake = this.carry.source(at)(element);
      const onKey = (event: KeyboardEvent) => this.key(event, at());
      const onBlur = () => (this.held = undefined);
      element.addEventListener('keydown', onKey);
      element.addEventListener('blur', onBlur);
      return () => {
        unmake?.();
        element.removeEventListener('keydown', onKey);
        element.removeEventListener('blur', onBlur);
      };
    };
  }

  /** For an item: on which of its sides what is carried would land, and whether it is the one that moves. */
  sideOf(at: number): 'before' | 'after' | undefined {
    const { landing: gap, load } = this.carry;
    if (gap === undefined || load === undefined || gap === load || gap === load + 1) return undefined;
    return gap === at ? 'before' : gap === this.count() && at === gap - 1 ? 'after' : undefined;
  }
  isMoving(at: number): boolean {
    return this.carry.load === at || this.held === at;
  }

  private key(event: KeyboardEvent, at: number): void {
    const by = { ArrowUp: -1, ArrowLeft: -1, ArrowDown: 1, ArrowRight: 1 }[event.key];
    if (event.key === 'Enter' || event.key === ' ') this.held = this.held === undefined ? at : undefined;
    else if (event.key === 'Escape' && this.held !== undefined) this.held = undefined;
    else if (by !== undefined && (event.altKey || this.held !== undefined)) {
      const to = at + by;
      if (to >= 0 && to < this.count()) {
        const isHeld = this.held !== undefined;
        const grip = event.currentTarget as HTMLElement;
        this.move(at, by < 0 ? to : to + 1);
        // Moving takes an element out of the page for a moment, and the focus off it.
        void tick().then(() => {
          grip.focus();
          if (isHeld) this.held = to;
        });
      }
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
