import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipOf, piecesFrom, topmost, unwrapping, wrapping } from '../../src/lib/core/templates/arrange';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { applyEdit, type Edit, type TreeOperation } from '../../src/lib/core/templates/edits';
import { parseTree } from '../../src/lib/core/templates/parse';
import type { Tree } from '../../src/lib/core/schema/element';
import { freshPiece, parentOf, pieceOf, walk } from '../../src/lib/core/templates/tree';

const start = (): Tree =>
  treeFrom({
    kind: 'box',
    children: [
      { kind: 'heading', name: 'One', slots: { text: boundTo('record', ['@title']) } },
      {
        kind: 'box',
        name: 'Two',
        children: [
          { kind: 'text', name: 'In two' },
          { kind: 'columns', name: 'Deep' },
        ],
      },
      {
        kind: 'loop',
        name: 'Three',
        id: 'l',
        children: [{ kind: 'text', slots: { text: boundTo('loop:l', ['@title']) } }],
      },
    ],
  });
const idOf = (tree: Tree, name: string) => Object.values(tree.elements).find((one) => one.name === name)!.id;
const names = (tree: Tree) =>
  walk(tree).map(({ element, depth }) => `${' '.repeat(depth)}${element.name ?? element.kind}`);
const done = (tree: Tree, operations: TreeOperation[] | undefined) => {
  const applied = operations && applyEdit(tree, { label: '', operations });
  if (!applied?.ok) throw new Error(applied?.problems[0]?.what ?? 'nothing to do');
  return applied.value;
};

describe('arranging', () => {
  it('wraps what is chosen where the first of it stood, and unwraps again', () => {
    const tree = start();
    const made = wrapping(tree, [idOf(tree, 'In two'), idOf(tree, 'One')], 'section')!;
    const { tree: wrapped, inverse } = done(tree, made.operations);
    expect(names(wrapped).slice(0, 5)).toEqual(['box', ' section', '  One', '  In two', ' Two']);
    expect(done(wrapped, inverse.operations).tree).toEqual(tree);
    const { tree: unwrapped } = done(wrapped, unwrapping(wrapped, made.id));
    expect(names(unwrapped).slice(0, 4)).toEqual(['box', ' One', ' In two', ' Two']);
    expect(wrapping(tree, [tree.root], 'box')).toBeUndefined();
    expect(wrapping(tree, [idOf(tree, 'One')], 'text')).toBeUndefined();
    expect(unwrapping(tree, idOf(tree, 'One'))).toBeUndefined();
    expect(unwrapping(tree, tree.root)).toBeUndefined();
  });

  it('takes what stands in something chosen along with it', () => {
    const tree = start();
    expect(topmost(tree, [tree.root, idOf(tree, 'Deep'), idOf(tree, 'Two'), idOf(tree, 'One'), 'gone'])).toEqual([
      idOf(tree, 'One'),
      idOf(tree, 'Two'),
    ]);
  });
});

/** One edit of every kind that the workbench makes, from numbers. */
function randomEdit(tree: Tree, [what, a, b, n]: number[]): Edit | undefined {
  const all = walk(tree);
  const id = all[a! % all.length]!.element.id;
  const place = parentOf(tree, id);
  const put = (at: string[], value: unknown): TreeOperation => ({ do: 'put', id, at, value });
  const several = [id, all[b! % all.length]!.element.id];
  const operations = ((): TreeOperation[] | undefined => {
    switch (what! % 9) {
      case 0:
        return wrapping(tree, several, 'box')?.operations;
      case 1:
        return unwrapping(tree, id);
      case 2:
        return (
          place && [
            { do: 'insert', parent: place.parent.id, index: place.index + 1, piece: freshPiece(pieceOf(tree, id)) },
          ]
        );
      case 3:
        return topmost(tree, several).map((one) => ({ do: 'remove', id: one }));
      case 4:
        return [put(['style'], n! % 3 ? { wide: { gap: 'm' }, narrow: { size: 's' } } : undefined)];
      case 5:
        return [put(['css'], n! % 3 ? '& { color: red }' : undefined)];
      case 6:
        return [
          put(['rule'], n! % 3 ? { group: 'all', rules: [] } : undefined),
          put(['name'], n! % 2 ? 'X' : undefined),
        ];
      case 7:
        return [{ do: 'replace', tree: start() }];
      default: {
        const pieces = piecesFrom(clipOf(tree, several), 'record');
        if (!pieces.ok || !place) return undefined;
        return pieces.value.map((piece, i) => ({
          do: 'insert',
          parent: place.parent.id,
          index: place.index + i,
          piece,
        }));
      }
    }
  })();
  return operations?.length ? { label: 'x', operations } : undefined;
}

describe('every edit of the workbench', () => {
  it('taken back gives the identical tree, and the tree is sound after each', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.nat(60), { minLength: 4, maxLength: 4 }), { maxLength: 14 }), (edits) => {
        const before = start();
        let tree = before;
        const inverses: Edit[] = [];
        for (const numbers of edits) {
          const edit = randomEdit(tree, numbers);
          const applied = edit && applyEdit(tree, edit);
          if (!applied?.ok) continue;
          tree = applied.value.tree;
          inverses.push(applied.value.inverse);
          expect(parseTree(tree).ok).toBe(true);
        }
        const after = tree;
        const redos: Edit[] = [];
        for (const inverse of inverses.toReversed()) {
          const undone = done(tree, inverse.operations);
          tree = undone.tree;
          redos.push(undone.inverse);
        }
        expect(tree).toEqual(before);
        for (const redo of redos.toReversed()) tree = done(tree, redo.operations).tree;
        expect(tree).toEqual(after);
      }),
      { numRuns: 250 },
    );
  });
});

describe('the clipboard', () => {
  it('brings elements under fresh ids, with paths to their own loops', () => {
    const tree = start();
    const pieces = piecesFrom(clipOf(tree, ['l', idOf(tree, 'One')]), 'record');
    if (!pieces.ok) throw new Error(pieces.problems[0]?.what);
    expect(pieces.value.map((piece) => piece.elements[piece.top]!.kind)).toEqual(['heading', 'loop']);
    const loop = pieces.value[1]!;
    expect(loop.top).not.toBe('l');
    expect(JSON.stringify(loop)).toContain(`loop:${loop.top}`);
    expect(JSON.stringify(loop)).not.toContain('loop:l"');
  });

  const clip = (elements: Record<string, unknown>, top = 'a') =>
    JSON.stringify({ plumThread: 'elements', version: 1, pieces: [{ top, elements }] });
  const one = (more: object = {}) => ({ id: 'a', kind: 'text', ...more });

  it.each<[string, string, RegExp]>([
    ['words', 'Just some words', /no elements of a template/],
    ['other JSON', '{"a":1}', /no elements of a template/],
    ['a list', '[]', /no elements of a template/],
    ['another version', clip({ a: one() }).replace('"version":1', '"version":9'), /./],
    ['something more', clip({ a: one({ onclick: 'alert(1)' }) }), /./],
    ['an unknown kind', clip({ a: one({ kind: 'script' }) }), /no element named “script”/],
    ['a slot that is none', clip({ a: one({ slots: { innerHTML: { fixed: 'x' } } }) }), /no slot “innerHTML”/],
    ['a slot of two minds', clip({ a: one({ slots: { text: { fixed: 'x', bound: {} } } }) }), /./],
    ['a circle', clip({ a: { id: 'a', kind: 'box', children: ['a'] } }), /two places/],
    ['a stray', clip({ a: one(), b: { id: 'b', kind: 'text' } }), /nowhere/],
    ['no top', clip({ a: one() }, 'gone'), /not there/],
    ['an inherited top', clip({ a: one() }, '__proto__'), /not there|in use|./],
    ['an id with markup', clip({ '"><img>': { id: '"><img>', kind: 'text' } }, '"><img>'), /letters, digits/],
    ['looks that end a rule', clip({ a: one({ style: { wide: { size: '1px;}body{display:none' } } }) }), /./],
    ['settings of another kind', clip({ a: one({ props: { size: '<b>' } }) }), /./],
    ['what may stand in frames only', clip({ a: one({ kind: 'slot' }) }), /cannot stand in this template/],
    ['far too much', `{"plumThread":"elements","x":"${'x'.repeat(5_000_001)}"}`, /too large/],
    [
      'more than a template holds',
      clip({
        a: { id: 'a', kind: 'box', children: Array.from({ length: 2001 }, (_, i) => `c${i}`) },
        ...Object.fromEntries(Array.from({ length: 2001 }, (_, i) => [`c${i}`, { id: `c${i}`, kind: 'text' }])),
      }),
      /2000 elements at most/,
    ],
  ])('refuses %s', (_name, text, what) => {
    const pieces = piecesFrom(text, 'record');
    expect(pieces.ok).toBe(false);
    if (!pieces.ok) expect(pieces.problems[0]?.what).toMatch(what);
  });

  it('takes any text at all without an exception', () => {
    const json = fc.json({ maxDepth: 6 }).map((inner) => `{"plumThread":"elements","version":1,"pieces":${inner}}`);
    fc.assert(
      fc.property(fc.oneof(fc.string(), json), (text) => void piecesFrom(text, 'record')),
      { numRuns: 500 },
    );
  });
});
