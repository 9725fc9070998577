import { describe, expect, it } from 'vitest';
import { compileTree, MOST_PLACED } from '../../src/lib/core/render/compile';
import { DEEPEST } from '../../src/lib/core/loops/loop';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Template } from '../../src/lib/core/schema/template';
import { envOf, houseScopes, index, record } from '../support/world';

const houses = Array.from({ length: 40 }, (_, i) => record(i + 1, 'house', { height: i }));
const title = (loop: string): Nested => ({ kind: 'text', slots: { text: boundTo(`loop:${loop}`, ['@title']) } });
const over = (id: string, children: Nested[]): Nested => ({
  kind: 'loop',
  id,
  props: { source: { from: 'query', typeIds: ['house'] } },
  children,
});
/** Loops within loops, each over all houses. */
const nested = (depth: number, at = 0): Nested =>
  over(`l${at}`, at + 1 < depth ? [nested(depth, at + 1)] : [title(`l${at}`)]);

describe('what would grow without end', () => {
  it('is stopped after so many turns, with a mark on the canvas and none on the site', () => {
    // 40 × 40 × 40 are 64,000 turns of the innermost loop.
    const tree = treeFrom(nested(3));
    const canvas = envOf(houses, [], { turnsLeft: 500 });
    const html = compileTree(tree, houseScopes, index, { studio: true }).draw(canvas);
    expect(html.match(/<li/g)!.length).toBeLessThanOrEqual(500);
    expect(html).toContain('Stopped here');
    expect([...canvas.stopped]).toContain('l2');
    const site = compileTree(tree, houseScopes, index).draw(envOf(houses, [], { turnsLeft: 500 }));
    expect(site).not.toContain('Stopped');
    expect(compileTree(tree, houseScopes, index).draw(envOf(houses)).match(/<li/g)!.length).toBeLessThanOrEqual(20_000);
  });

  it('does not stop what comes to fewer turns', () => {
    const env = envOf(houses, [], { turnsLeft: 41 });
    const made = compileTree(treeFrom(over('l', [title('l')])), houseScopes, index, { studio: true });
    expect(made.draw(env).match(/<li/g)).toHaveLength(40);
    expect(env.stopped.size).toBe(0);
  });

  it('goes no deeper than it is read, and says so', () => {
    const few = houses.slice(0, 1);
    const fine = compileTree(treeFrom(nested(DEEPEST)), houseScopes, index);
    expect(fine.looseEnds).toEqual([]);
    expect(fine.draw(envOf(few))).toContain('house 1');
    const deep = compileTree(treeFrom(nested(DEEPEST + 1)), houseScopes, index, { studio: true });
    expect(deep.looseEnds.map((end) => end.what)).toContain(`Loops go ${DEEPEST} deep at most.`);
    expect(deep.draw(envOf(few))).toContain('deep at most');
  });

  it('is refused where parts hold parts that hold parts, twice each', () => {
    const part = (n: number, children: Nested[]): Template => ({
      id: `p${n}`,
      name: `Part ${n}`,
      purpose: 'part',
      serves: [],
      order: n,
      version: 1,
      tree: treeFrom({ kind: 'box', children }),
    });
    const place = (n: number): Nested => ({ kind: 'part', props: { part: `p${n}` } });
    const all = Array.from({ length: 40 }, (_, n) =>
      part(n, n < 39 ? [place(n + 1), place(n + 1)] : [{ kind: 'divider' }]),
    );
    // 2⁴⁰ would not come to an end.
    const made = compileTree(treeFrom({ kind: 'box', children: [place(0)] }), houseScopes, index, {
      parts: (id) => all.find((one) => one.id === id),
    });
    expect(made.looseEnds.map((end) => end.what)).toContainEqual(expect.stringContaining(`${MOST_PLACED} elements`));
  });

  it('goes over nothing where the field of its source was deleted, and says which', () => {
    const gone = compileTree(
      treeFrom({
        kind: 'loop',
        id: 'l',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['gone'] } } },
        slots: { nothing: { fixed: 'None' } },
        children: [title('l')],
      }),
      houseScopes,
      index,
    );
    expect(gone.looseEnds[0]).toMatchObject({ elementId: 'l', via: 'repeats' });
    expect(gone.looseEnds[0]?.what).toContain('deleted');
    expect(gone.draw(envOf(houses))).toContain('None');
  });
});
