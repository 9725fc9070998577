import { describe, expect, it } from 'vitest';
import { Carry } from '../../src/lib/ui/carry/carry.svelte';
import { gapAt, moved } from '../../src/lib/ui/carry/list-order.svelte';

const box = (left: number, top: number, width: number, height: number) => ({
  left,
  top,
  right: left + width,
  bottom: top + height,
});
const at = (x: number, y: number) => ({ x, y, shift: false });

describe('the gap of a list that a point is nearest to', () => {
  const rows = [box(0, 0, 200, 20), box(0, 24, 200, 60), box(0, 88, 200, 20)];
  const lines = [box(0, 0, 50, 20), box(54, 0, 50, 20), box(0, 24, 50, 20)];
  it.each([
    ['above all rows', rows, 100, -50, 0],
    ['in the upper half of a row', rows, 100, 30, 1],
    ['in its lower half', rows, 100, 80, 2],
    ['below all rows', rows, 100, 500, 3],
    ['left in an item that has one beside it', lines, 60, 10, 1],
    ['right in it', lines, 100, 10, 2],
    ['in the second line, though nearer to the first', lines, 300, 30, 3],
    ['in nothing at all', [], 5, 5, 0],
  ])('%s', (_, boxes, x, y, gap) => expect(gapAt(boxes, at(x, y))).toBe(gap));
});

describe('moving an item to a gap', () => {
  it('puts every item into every gap, and loses none', () => {
    const items = ['a', 'b', 'c', 'd'];
    for (const [from, item] of items.entries())
      for (let gap = 0; gap <= items.length; gap++) {
        const after = moved(items, from, gap);
        expect([...after].sort()).toEqual(items);
        // What stood before the gap stands before the item now, and what stood behind it behind it.
        const place = after.indexOf(item);
        for (const [i, other] of items.entries())
          if (other !== item) expect(after.indexOf(other) < place).toBe(i < gap);
      }
    expect(moved(items, 1, 1)).toEqual(items);
    expect(moved(items, 1, 2)).toEqual(items);
  });
});

describe('carrying over surfaces in each other', () => {
  const carry = new Carry<string, string>(() => {});
  const [inner, outer] = [{}, {}] as unknown as [Element, Element];
  (carry as unknown as { surfaces: Map<Element, unknown> }).surfaces
    .set(inner, ({ x }: { x: number }, load: string) => (x > 10 ? `${load} in the inner one` : undefined))
    .set(outer, (_: unknown, load: string) => `${load} in the outer one`);
  const over = [{ element: inner }, { element: outer }];

  it('asks the inner one first, then the one around it', () => {
    carry.load = 'a thing';
    carry.over(over, at(20, 0));
    expect(carry.landing).toBe('a thing in the inner one');
    carry.over(over, at(5, 0));
    expect(carry.landing).toBe('a thing in the outer one');
  });
  it('lands nowhere when it is over none', () => {
    carry.over([], at(20, 0));
    expect(carry.landing).toBeUndefined();
  });
  it('lands nowhere when nothing is carried', () => {
    carry.load = undefined;
    carry.over(over, at(20, 0));
    expect(carry.landing).toBeUndefined();
  });
});
