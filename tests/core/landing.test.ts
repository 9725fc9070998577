import { describe, expect, it } from 'vitest';
import { elements } from '../../src/lib/core/elements';
import { compilePath } from '../../src/lib/core/paths/compile';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { applyEdit, type Edit } from '../../src/lib/core/templates/edits';
import {
  bindingSlot,
  landingAt,
  type Drop,
  type DropContext,
  type Load,
  type LandingSide,
} from '../../src/lib/core/templates/landing';
import { parseTree } from '../../src/lib/core/templates/parse';
import { parentOf, walk } from '../../src/lib/core/templates/tree';
import type { Tree } from '../../src/lib/core/schema/element';
import { compileTree } from '../../src/lib/core/render/compile';
import { envOf, houseScopes, index, own, record } from '../support/world';

const tree: Tree = treeFrom({
  kind: 'box',
  children: [
    { kind: 'heading', slots: { text: boundTo('record', ['@title']) } },
    { kind: 'text' },
    { kind: 'columns', children: [{ kind: 'picture' }, { kind: 'button' }] },
  ],
});
const ground: DropContext = {
  tree,
  index,
  typeId: 'house',
  parts: [{ id: 'a-part' }],
  scopesAt: () => houseScopes,
  scopesIn: () => houseScopes,
  nameOf: (id) => id,
};
/** A tree with an edit done to it, and the edit that takes it back. */
function applied(to: Tree, edit: Edit): { tree: Tree; inverse: Edit } {
  const done = applyEdit(to, edit);
  if (!done.ok) throw new Error(done.problems[0]?.what);
  return done.value;
}
const valueOf = (...steps: string[]): Load => {
  const made = compilePath(own(...steps), houseScopes, index);
  if (!made.ok) throw new Error(`There is no ${steps.join('.')}`);
  return { what: 'value', path: own(...steps), type: made.value.type };
};
const fields = index.type('house')!.fields.map((field) => field.id);
const ids = walk(tree).map(({ element }) => element.id);
const byKind = (kind: string) => walk(tree).find(({ element }) => element.kind === kind)!.element.id;

const loads: [string, Load][] = [
  ...['@title', ...fields].map((id): [string, Load] => [`the value ${id}`, valueOf(id)]),
  ...elements.map(({ name }): [string, Load] => [`a new ${name}`, { what: 'new', kind: name }]),
  ...ids.slice(1).map((id): [string, Load] => [`${tree.elements[id]!.kind}, moved`, { what: 'move', id }]),
];

describe('landing', () => {
  it.each(loads)(
    '%s: everywhere it is said in words, can be applied and taken back, and leaves a sound tree',
    (_, load) => {
      let landed = 0;
      for (const target of ids)
        for (const where of ['before', 'after', 'inside', 'onto'] as LandingSide[]) {
          const landing = landingAt(ground, load, target, where);
          if (!landing) continue;
          expect(landing.words).not.toBe('');
          for (const drop of [landing.drop, ...(landing.offers ?? []).map((offer) => offer.drop)]) {
            if (!drop) continue;
            landed++;
            expect(drop.label).not.toBe('');
            const done = applied(tree, { label: drop.label, operations: drop.operations });
            expect(done.tree.elements[drop.select]).toBeDefined();
            expect(parseTree(done.tree).ok).toBe(true);
            expect(applied(done.tree, done.inverse).tree).toEqual(tree);
          }
        }
      expect(landed).toBeGreaterThan(0);
    },
  );

  it('brings words to a link, and asks where a value can be shown in more than one way', () => {
    const brought = (load: Load) => {
      const landing = landingAt(ground, load, ids[0]!, 'inside')!;
      const piece = ({ drop }: { drop?: { operations: Edit['operations']; select: string } }) => {
        const [operation] = drop!.operations;
        if (operation?.do !== 'insert') throw new Error('Nothing was put in.');
        return operation.piece;
      };
      const slots = (of: { drop?: Drop }) => piece(of).elements[piece(of).top]!.slots;
      return { landing, slots: slots(landing), offers: (landing.offers ?? []).map((one) => piece(one)) };
    };
    // An address brings the title of what it leads to, of a related record too.
    expect(brought(valueOf('@address')).slots).toMatchObject({
      label: { bound: { path: own('@title') } },
      link: { bound: { path: own('@address') } },
    });
    expect(brought(valueOf('keeper', '@address')).slots.label).toMatchObject({
      bound: { path: own('keeper', '@title') },
    });
    // The words of a link, or else the name of its field.
    const { tree: page } = applied(tree, landingAt(ground, valueOf('web'), ids[0]!, 'inside')!.drop!);
    const html = (web: unknown) => compileTree(page, houseScopes, index).draw(envOf([record(1, 'house', { web })]));
    expect(html({ url: 'https://a.example/', label: 'Book a bunk' })).toContain('>Book a bunk</a>');
    expect(html({ url: 'https://a.example/' })).toContain('>Web</a>');
    // A place is a map or words, rows are a table or cards; each is asked by its name.
    const place = brought(valueOf('spot'));
    expect(place.landing.asks).toBe('How should Spot be shown?');
    expect(place.offers.map(({ top, elements: all }) => all[top]!.kind)).toEqual(['map', 'text']);
    const rows = brought(valueOf('seasons'));
    expect(rows.landing.offers!.map(({ words }) => words)).toEqual([
      'As a table from rows',
      'Repeat over them, as cards',
    ]);
    const { tree: cards } = applied(tree, rows.landing.offers![1]!.drop);
    const made = compileTree(cards, houseScopes, index);
    expect(made.looseEnds.filter(({ via }) => via !== 'level')).toEqual([]);
    const drawn = made.draw(
      envOf([record(1, 'house', { seasons: [{ season: 'Summer', price: 20 }, { season: 'Winter' }] })]),
    );
    expect(drawn.match(/<h3>[^<]*/g)).toEqual(['<h3>Summer', '<h3>Winter']);
    expect(drawn).toContain('Price: £20.00');
  });

  it('makes the first heading of a page one of the first level, and others below it', () => {
    const levelIn = (own: Partial<DropContext>, target: string) => {
      const { drop } = landingAt({ ...ground, ...own }, { what: 'new', kind: 'heading' }, target, 'inside')!;
      const [operation] = drop!.operations;
      return operation?.do === 'insert' && operation.piece.elements[drop!.select]?.props.level;
    };
    const bare = treeFrom({ kind: 'box', id: 'root', children: [{ kind: 'box', id: 'inner' }] });
    const first = treeFrom({ kind: 'box', id: 'root', children: [{ kind: 'heading', id: 'h', props: { level: 1 } }] });
    const turns = { scopesIn: () => ({ ...houseScopes, loops: [{ id: 'l', name: 'L', typeIds: ['way'], depth: 0 }] }) };
    expect(levelIn({ tree: bare, heads: true }, 'inner')).toBe(1);
    expect(levelIn({ tree: first, heads: true }, 'root')).not.toBe(1);
    expect(levelIn({ tree: bare, heads: true, ...(turns as Partial<DropContext>) }, 'inner')).not.toBe(1);
    expect(levelIn({ tree: bare }, 'inner')).not.toBe(1);
  });

  it('moves an element up and down beside another as it was pointed at', () => {
    const [heading, text] = [byKind('heading'), byKind('text')];
    const order = (load: Load, target: string, where: LandingSide) => {
      const { operations, label } = landingAt(ground, load, target, where)!.drop!;
      const after = applied(tree, { label, operations }).tree;
      return after.elements[tree.root]!.children.map((id) => after.elements[id]!.kind);
    };
    expect(order({ what: 'move', id: heading }, text, 'after')).toEqual(['text', 'heading', 'columns']);
    expect(order({ what: 'move', id: text }, heading, 'before')).toEqual(['text', 'heading', 'columns']);
    expect(landingAt(ground, { what: 'move', id: byKind('columns') }, byKind('picture'), 'before')).toBeUndefined();
  });

  it('binds the slot that a value fits, and keeps what stands around it', () => {
    const heading = byKind('heading');
    const landing = landingAt(ground, valueOf('name'), heading, 'onto')!;
    expect(landing.where).toBe('onto');
    const worded = applied(tree, {
      label: '',
      operations: [{ do: 'put', id: heading, at: ['slots', 'text', 'bound', 'before'], value: 'Called ' }],
    }).tree;
    const load = valueOf('name') as Extract<Load, { what: 'value' }>;
    const drop = bindingSlot({ ...ground, tree: worded }, heading, 'text', load.path, load.type)!;
    const bound = applied(worded, { label: drop.label, operations: drop.operations }).tree.elements[heading]!;
    expect(bound.slots.text).toMatchObject({ bound: { path: own('name'), before: 'Called ' } });
    expect(parentOf(worded, heading)?.index).toBe(0);
  });

  it('refuses, in words, a value that cannot be reached from there', () => {
    const stray: Load = {
      ...(valueOf('name') as Extract<Load, { what: 'value' }>),
      path: { from: 'loop:gone', steps: ['name'] },
    };
    expect(landingAt(ground, stray, tree.root, 'inside')).toMatchObject({
      words: 'This value cannot be reached from here',
    });
    expect(landingAt(ground, stray, tree.root, 'inside')?.drop).toBeUndefined();
  });

  it('of a yes or no says when something appears, and leaves words that were written', () => {
    const worded = treeFrom({
      kind: 'box',
      children: [
        { kind: 'text', id: 'worded', slots: { text: { fixed: 'Open in winter' } } },
        { kind: 'text', id: 'blank', slots: { text: { fixed: '' } } },
        {
          kind: 'text',
          id: 'ruled',
          rule: { group: 'any', rules: [{ test: 'filled', path: own('name') }] },
          slots: { text: { fixed: 'x' } },
        },
      ],
    });
    const at = (id: string) => landingAt({ ...ground, tree: worded }, valueOf('open'), id, 'onto')!;
    const yes = { test: 'yesno.yes', path: own('open') };
    const after = (id: string) => applied(worded, at(id).drop!).tree.elements[id]!;
    expect([at('worded').words, at('worded').offers]).toEqual(['worded appears only where Open is yes', undefined]);
    expect(after('worded')).toMatchObject({
      slots: { text: { fixed: 'Open in winter' } },
      rule: { group: 'all', rules: [yes] },
    });
    expect(after('ruled').rule).toEqual({ group: 'all', rules: [worded.elements.ruled!.rule, yes] });
    // Where nothing was written it may be shown instead.
    expect(at('blank').offers?.map(({ words }) => words)).toEqual([
      'blank appears only where Open is yes',
      'Bind text of blank to Open',
    ]);
  });
});
