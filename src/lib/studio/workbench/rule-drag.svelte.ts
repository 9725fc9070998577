import { movePart, partAt, type Drop, type Place } from '$lib/core/rules/parts';
import { isGroup, type Group } from '$lib/core/schema/rule';

/** Moving the parts of one rule: by pointer, or by Alt with the arrows. */
export class RuleDrag {
  /** The place of what is dragged, and of what it would be dropped at. */
  from: string | undefined = $state();
  over: { at: string; drop: Drop } | undefined = $state.raw();

  constructor(
    private readonly rule: () => Group,
    /** Takes the rule as it would be; gives back whether it was taken. */
    private readonly settle: (rule: Group) => boolean,
  ) {}

  private place = (key: string): Place => (key ? key.split('.').map(Number) : []);

  /** What a point is on: a part of this rule, or the end of a group. */
  private at(root: Element, x: number, y: number): { at: string; drop: Drop } | undefined {
    const under = document.elementFromPoint(x, y);
    if (!under || !root.contains(under)) return undefined;
    const part = under.closest<HTMLElement>('[data-rule-at]');
    const group = under.closest<HTMLElement>('[data-rule-group]');
    // Below its tests a group takes what is dropped at its end.
    if (group && (!part || part.contains(group))) return { at: group.dataset.ruleGroup ?? '', drop: 'onto' };
    if (!part) return undefined;
    const box = part.getBoundingClientRect();
    const share = (y - box.top) / box.height;
    return { at: part.dataset.ruleAt ?? '', drop: share < 0.3 ? 'before' : share > 0.7 ? 'after' : 'onto' };
  }

  press(event: PointerEvent, from: Place): void {
    const grip = event.currentTarget as HTMLElement;
    const root = grip.closest('[data-rule-root]');
    if (!root || event.button !== 0) return;
    grip.setPointerCapture(event.pointerId);
    const key = from.join('.');
    const move = (now: PointerEvent) => {
      if (!this.from && Math.hypot(now.clientX - event.clientX, now.clientY - event.clientY) < 4) return;
      this.from = key;
      const over = this.at(root, now.clientX, now.clientY);
      const can = over && movePart(this.rule(), from, this.place(over.at), over.drop);
      this.over = can ? over : undefined;
    };
    const end = (now: Event) => {
      grip.removeEventListener('pointermove', move);
      const { over } = this;
      this.from = this.over = undefined;
      if (now.type === 'pointerup' && over) this.drop(from, this.place(over.at), over.drop);
    };
    grip.addEventListener('pointermove', move);
    for (const name of ['pointerup', 'pointercancel'] as const) grip.addEventListener(name, end, { once: true });
  }

  private drop(from: Place, to: Place, drop: Drop): boolean {
    const moved = movePart(this.rule(), from, to, drop);
    return moved !== undefined && this.settle(moved as Group);
  }

  /** Up and down among its neighbours, right into the group before it, left out of its own. */
  key(event: KeyboardEvent, from: Place): void {
    const at = from.at(-1) as number;
    const beside = (by: number): Place => [...from.slice(0, -1), at + by];
    if (!event.altKey) return;
    let to: [Place, Drop] | undefined;
    if (event.key === 'ArrowUp') to = [beside(-1), 'before'];
    else if (event.key === 'ArrowDown') to = [beside(1), 'after'];
    else if (event.key === 'ArrowLeft' && from.length > 1) to = [from.slice(0, -1), 'after'];
    else if (event.key === 'ArrowRight') {
      const before = partAt(this.rule(), beside(-1));
      if (before && isGroup(before)) to = [beside(-1), 'onto'];
    } else return;
    event.preventDefault();
    event.stopPropagation();
    if (to) this.drop(from, to[0], to[1]);
  }
}
