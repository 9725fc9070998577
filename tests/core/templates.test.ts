import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elements } from '../../src/lib/core/elements';
import { bringFor, slotFor, startBinding } from '../../src/lib/core/templates/bring';
import { blankTree, boundTo, newElement, pieceFrom, treeFrom } from '../../src/lib/core/templates/build';
import { applyEdit, type Edit } from '../../src/lib/core/templates/edits';
import { parseTemplate } from '../../src/lib/core/templates/parse';
import type { Tree } from '../../src/lib/core/schema/element';
import { freshPiece, pieceOf, usesOf, walk } from '../../src/lib/core/templates/tree';
import { compilePath } from '../../src/lib/core/paths/compile';
import { houseScopes, index, own } from '../support/world';

const start = (): Tree =>
  treeFrom({
    kind: 'box',
    children: [
      { kind: 'heading', slots: { text: boundTo('record', ['@title']) } },
      { kind: 'box', children: [{ kind: 'text' }, { kind: 'columns', children: [{ kind: 'text' }] }] },
    ],
  });

/** A random edit of a tree, from numbers: which operation, at which elements, with which value. */
function randomEdit(tree: Tree, [what, a, b, n]: [number, number, number, number]): Edit {
  const ids = walk(tree).map(({ element }) => element.id);
  const id = ids[a % ids.length] as string;
  const holders = ids.filter((x) => ['box', 'columns', 'loop'].includes(tree.elements[x]!.kind));
  const parent = holders[b % holders.length] as string;
  switch (what % 5) {
    case 0:
      return {
        label: 'insert',
        operations: [
          { do: 'insert', parent, index: n, piece: pieceFrom({ kind: 'box', children: [{ kind: 'text' }] }) },
        ],
      };
    case 1:
      return { label: 'remove', operations: [{ do: 'remove', id }] };
    case 2:
      return { label: 'move', operations: [{ do: 'move', id, parent, index: n }] };
    case 3:
      return {
        label: 'put',
        operations: [
          {
            do: 'put',
            id,
            at: [['name'], ['rule'], ['props', 'gap'], ['props', 'deep', 'er'], ['slots', 'text'], ['slots']][
              n % 6
            ] as string[],
            value: b % 2 ? undefined : b % 3 ? 'x' : { fixed: 'y' },
          },
        ],
      };
    default:
      return {
        label: 'both',
        operations: [
          { do: 'put', id, at: ['name'], value: 'z' },
          { do: 'move', id, parent, index: 0 },
        ],
      };
  }
}

describe('edits', () => {
  it('taken back give the identical tree, and done again the same one', () => {
    const numbers = fc.tuple(fc.nat(4), fc.nat(50), fc.nat(50), fc.nat(6)) as fc.Arbitrary<
      [number, number, number, number]
    >;
    fc.assert(
      fc.property(fc.array(numbers, { maxLength: 25 }), (edits) => {
        const before = start();
        let tree = before;
        const inverses: Edit[] = [];
        const states = [JSON.stringify(tree)];
        for (const each of edits) {
          const applied = applyEdit(tree, randomEdit(tree, each));
          if (!applied.ok) continue;
          tree = applied.value.tree;
          inverses.push(applied.value.inverse);
          states.push(JSON.stringify(tree));
        }
        const redos: Edit[] = [];
        for (const inverse of inverses.toReversed()) {
          const undone = applyEdit(tree, inverse);
          if (!undone.ok) throw new Error(undone.problems[0]?.what);
          tree = undone.value.tree;
          redos.push(undone.value.inverse);
        }
        expect(tree).toEqual(before);
        for (const redo of redos.toReversed()) {
          const done = applyEdit(tree, redo);
          if (!done.ok) throw new Error(done.problems[0]?.what);
          tree = done.value.tree;
        }
        expect(tree).toEqual(JSON.parse(states.at(-1) as string));
      }),
      { numRuns: 300 },
    );
  });

  it('are whole or not at all, and never put an element into itself', () => {
    const tree = start();
    const box = tree.elements[tree.root]!.children[1] as string;
    const inner = tree.elements[box]!.children[1] as string;
    expect(
      applyEdit(tree, { label: '', operations: [{ do: 'move', id: box, parent: inner, index: 0 }] }),
    ).toMatchObject({ ok: false, problems: [{ what: 'An element cannot go into itself.' }] });
    expect(
      applyEdit(tree, {
        label: '',
        operations: [
          { do: 'put', id: box, at: ['name'], value: 'x' },
          { do: 'remove', id: 'gone' },
        ],
      }).ok,
    ).toBe(false);
    expect(applyEdit(tree, { label: '', operations: [{ do: 'remove', id: tree.root }] }).ok).toBe(false);
    expect(applyEdit(tree, { label: '', operations: [{ do: 'put', id: box, at: ['children'], value: [] }] }).ok).toBe(
      false,
    );
    expect(
      applyEdit(tree, { label: '', operations: [{ do: 'put', id: box, at: ['props', '__proto__', 'bad'], value: 1 }] })
        .ok,
    ).toBe(true);
    expect(({} as { bad?: number }).bad).toBeUndefined();
  });
});

describe('pieces', () => {
  it('copied get fresh ids, and paths to their own loops follow', () => {
    const tree = treeFrom({
      kind: 'box',
      children: [
        {
          kind: 'loop',
          id: 'l1',
          props: {
            source: { from: 'query', typeIds: ['house'] },
            filter: { group: 'all', rules: [{ test: 'filled', path: { from: 'loop:l1', steps: ['name'] } }] },
          },
          children: [
            {
              kind: 'text',
              slots: {
                text: boundTo('loop:l1', ['name'], { fallbacks: [{ path: { from: 'record', steps: ['@title'] } }] }),
              },
            },
          ],
        },
      ],
    });
    const copy = freshPiece(pieceOf(tree, 'l1'));
    const uses = usesOf({ root: copy.top, elements: copy.elements });
    expect(uses.map((use) => [use.via, use.path.from])).toEqual([
      ['repeats', `loop:${copy.top}`],
      ['text', `loop:${copy.top}`],
      ['text', 'record'],
    ]);
    expect(Object.keys(copy.elements)).not.toContain('l1');
    expect(usesOf(tree).map((use) => use.path.from)).toEqual(['loop:l1', 'loop:l1', 'record']);
  });
});

describe('templates', () => {
  const template = (tree: unknown, more: object = {}) => ({
    id: 't',
    name: 'T',
    purpose: 'record',
    serves: [{ on: 'type', typeId: 'house' }],
    order: 0,
    version: 1,
    tree,
    ...more,
  });
  const element = (id: string, kind: string, more: object = {}) => ({ id, kind, ...more });

  it('are read with the props of their elements settled', () => {
    const parsed = parseTemplate(
      template({ root: 'a', elements: { a: element('a', 'box', { children: ['b'] }), b: element('b', 'heading') } }),
    );
    expect(parsed.ok && parsed.value.tree.elements.b?.props).toEqual({ level: 2, size: 'auto' });
    expect(parseTemplate(template(blankTree())).ok).toBe(true);
  });

  it.each<[string, unknown, string]>([
    [
      'an unknown element',
      { root: 'a', elements: { a: element('a', 'script') } },
      'There is no element named “script”.',
    ],
    [
      'a circle',
      {
        root: 'a',
        elements: { a: element('a', 'box', { children: ['b'] }), b: element('b', 'box', { children: ['a'] }) },
      },
      'An element stands in two places.',
    ],
    [
      'a missing child',
      { root: 'a', elements: { a: element('a', 'box', { children: ['b'] }) } },
      'Box holds an element that is not there.',
    ],
    [
      'a stray element',
      { root: 'a', elements: { a: element('a', 'box'), b: element('b', 'box') } },
      'Some elements stand nowhere in the tree.',
    ],
    [
      'children of a leaf',
      { root: 'a', elements: { a: element('a', 'text', { children: ['b'] }), b: element('b', 'text') } },
      'A text holds no other elements.',
    ],
    [
      'a slot that is none',
      { root: 'a', elements: { a: element('a', 'text', { slots: { onclick: { fixed: 'x' } } }) } },
      'A text has no slot “onclick”.',
    ],
    [
      'another id',
      { root: 'a', elements: { a: element('x', 'box') } },
      'An element is filed under another id than its own.',
    ],
    [
      'an id with markup',
      { root: '"><b>', elements: { '"><b>': element('"><b>', 'box') } },
      'An id has letters, digits, hyphens and underscores.',
    ],
    ['an inherited name', { root: 'constructor', elements: {} }, 'The template holds an element that is not there.'],
  ])('refuse %s', (_name, tree, what) => {
    const parsed = parseTemplate(template(tree));
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.problems.map((p) => p.what)).toContain(what);
  });
});

describe('what a value brings', () => {
  const brought = (...steps: string[]) => {
    const made = compilePath(own(...steps), houseScopes, index);
    if (!made.ok) throw new Error(made.problems[0]?.what);
    return bringFor(own(...steps), made.value.type, blankTree());
  };

  it('shows it at its best', () => {
    expect(brought('@title').label).toBe('Heading');
    expect(Object.values(brought('@title').piece.elements)[0]?.props.level).toBe(1);
    expect(brought('photo').label).toBe('Picture');
    expect(brought('height').label).toBe('Text');
    expect(brought('web').label).toBe('Button');
    expect(brought('keeper').label).toBe('Link');
    expect(brought('gallery').label).toBe('Picture set');
    expect(brought('seasons').label).toBe('Table from rows');
    expect(brought('seasons', 'price').label).toBe('Text');
    expect(brought('film').label).toBe('Player');
    expect(brought('sign').label).toBe('Icon');
    expect(brought('spot').label).toBe('Map picture');
    expect(brought('uses').label).toBe('List');
    expect(brought('phone').label).toBe('Link');
    expect(brought('@terms:area').label).toBe('Terms');
    expect(brought('ways').label).toBe('Loop');
  });

  it('goes only into slots that take it, with a take where it is many', () => {
    for (const step of [
      '@title',
      'height',
      'photo',
      'web',
      'keeper',
      'ways',
      '@terms:area',
      'state',
      'open',
      'built',
    ]) {
      const made = compilePath(own(step), houseScopes, index);
      if (!made.ok) throw new Error(step);
      for (const kind of elements) {
        const slot = slotFor(kind, made.value.type);
        if (!slot) continue;
        const { shape } = kind.slots[slot]!;
        const value = startBinding(own(step), made.value.type, shape);
        const taken = 'bound' in value && value.bound.take !== undefined;
        // Lists, sets and terms hold several as they are; anywhere else one is made of them.
        expect([step, shape, taken]).toEqual([step, shape, made.value.type.many && !['list', 'terms'].includes(shape)]);
      }
    }
    const slot = (kind: string, ...steps: string[]) => {
      const made = compilePath(own(...steps), houseScopes, index);
      return made.ok
        ? slotFor(
            elements.find((one) => one.name === kind)!,
            made.value.type,
          )
        : undefined;
    };
    expect(slot('picture', 'photo')).toBe('source');
    expect(slot('picture', 'web')).toBe('link');
    // A date on a picture is no alternative text.
    expect(slot('picture', 'built')).toBeUndefined();
    expect(slot('heading', 'built')).toBe('text');
    expect(slot('loop', 'name')).toBeUndefined();
    expect(newElement('text').slots.text).toEqual({ fixed: 'Some words.' });
  });
});
