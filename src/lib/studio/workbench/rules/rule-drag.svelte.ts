import type { Attachment } from 'svelte/attachments';
import { movePart, partAt, type PartDrop, type PartPlace } from '$lib/core/rules/parts';
import { isGroup, type Group } from '$lib/core/schema/rule';
import { Carry } from '$lib/ui/carry/carry.svelte';

/** Moving the parts of one rule: by pointer, or by Alt with the arrows. */
export class RuleDrag {
  private readonly carry = new Carry<PartPlace, { at: string; drop: PartDrop }>(({ at, drop }, from) =>
    this.drop(from, this.place(at), drop),
  );

  constructor(
    private readonly rule: () => Group,
    /** Takes the rule as it would be; gives back whether it was taken. */
    private readonly settle: (rule: Group) => boolean,
  ) {}

  private place = (key: string): PartPlace => (key ? key.split('.').map(Number) : []);

  /** The place of the part that is carried, and what it would be dropped at. */
  get from(): string | undefined {
    return this.carry.load?.join('.');
  }
  get over(): { at: string; drop: PartDrop } | undefined {
    return this.carry.landing;
  }

  /** For the rule as a whole. */
  readonly root: Attachment<HTMLElement> = this.carry.surface(({ x, y }, from) => {
    const over = this.under(document.elementFromPoint(x, y), y);
    return over && movePart(this.rule(), from, this.place(over.at), over.drop) ? over : undefined;
  });

  /** For the grip of a part. */
  grip(at: () => PartPlace): Attachment<HTMLElement> {
    return this.carry.source(at);
  }

  /** What an element of this rule stands for: a part, or the end of a group. */
  private under(element: Element | null, y: number): { at: string; drop: PartDrop } | undefined {
    const part = element?.closest<HTMLElement>('[data-rule-at]');
    const group = element?.closest<HTMLElement>('[data-rule-group]');
    // Below its tests a group takes what is dropped at its end.
    if (group && (!part || part.contains(group))) return { at: group.dataset.ruleGroup ?? '', drop: 'onto' };
    if (!part) return undefined;
    const box = part.getBoundingClientRect();
    const share = (y - box.top) / box.height;
    return { at: part.dataset.ruleAt ?? '', drop: share < 0.3 ? 'before' : share > 0.7 ? 'after' : 'onto' };
  }

  private drop(from: PartPlace, to: PartPlace, drop: PartDrop): boolean {
    const moved = movePart(this.rule(), from, to, drop);
    return moved !== undefined && this.settle(moved as Group);
  }

  /** Up and down among its neighbours, right into the group before it, left out of its own. */
  key(event: KeyboardEvent, from: PartPlace): void {
    const at = from.at(-1) as number;
    const beside = (by: number): PartPlace => [...from.slice(0, -1), at + by];
    if (!event.altKey) return;
    let to: [PartPlace, PartDrop] | undefined;
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
