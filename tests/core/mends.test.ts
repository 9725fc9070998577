import { describe, expect, it } from 'vitest';
import { looseEndsOf } from '../../src/lib/core/checks/loose-ends';
import { mendOf } from '../../src/lib/core/checks/mends';
import { firstTab, placeOfEnd } from '../../src/lib/core/checks/places';
import { elements } from '../../src/lib/core/elements';
import { explain } from '../../src/lib/core/rules/explain';
import { compileRule } from '../../src/lib/core/rules/compile';
import { compileTree, scopesOf } from '../../src/lib/core/render/compile';
import { applyEdit } from '../../src/lib/core/templates/edits';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { startLoop } from '../../src/lib/core/templates/landing';
import { archiveTree } from '../../src/lib/core/templates/start';
import { indexModel } from '../../src/lib/core/model/model';
import { contrast, contrastOver, inkOn } from '../../src/lib/core/theme/contrast';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import type { Template } from '../../src/lib/core/schema/template';
import { envOf, houseScopes, index, model, own, picture, record } from '../support/world';

const theme = BUILT_IN;
const templateOf = (nested: Nested): Template => ({
  id: 't',
  name: 'T',
  purpose: 'record',
  serves: [{ on: 'type', typeId: 'house' }],
  order: 0,
  version: 1,
  tree: treeFrom(nested),
});
const heading = (level: number): Nested => ({ kind: 'heading', props: { level }, slots: { text: { fixed: 'A' } } });
const branch = (operand: string, ...children: Nested[]): Nested => ({
  kind: 'box',
  rule: { group: 'all', rules: [{ test: 'choice.is', path: own('state'), operand }] },
  children,
});

describe('loose ends', () => {
  /** Each with exactly one thing that can be mended for the designer. */
  const BROKEN: Record<string, Nested> = {
    'a heading that skips a level': { kind: 'box', children: [heading(1), heading(3)] },
    'looks whose token is gone': {
      kind: 'box',
      children: [{ ...heading(1), style: { wide: { colour: 'gone', size: 'm' } } }],
    },
    'a format that does not fit': {
      kind: 'box',
      children: [
        {
          kind: 'text',
          slots: { text: boundTo('record', ['story'], { formats: [{ format: 'number', options: {} }] }) },
        },
      ],
    },
    'an answer without a branch': {
      kind: 'box',
      children: [
        {
          kind: 'alternatives',
          children: [branch('good', heading(1)), branch('fair', heading(1)), { kind: 'box', children: [heading(1)] }],
        },
      ],
    },
    'a branch that holds nothing': {
      kind: 'box',
      children: [{ kind: 'alternatives', children: [branch('good', heading(1)), branch('fair')] }],
    },
  };
  const ground = ({ tree, ...template }: Template) => ({
    tree,
    elements: compileTree(tree, scopesOf(template, index), index).elements,
    model: index,
    theme,
  });
  for (const [name, nested] of Object.entries(BROKEN))
    it(`are mended by one edit: ${name}`, () => {
      const template = templateOf(nested);
      const ends = looseEndsOf(template, index, undefined, theme);
      const mended = ends.flatMap((end) => {
        const edit = mendOf(end, ground(template));
        return edit ? [{ end, edit }] : [];
      });
      expect(mended.length).toBeGreaterThan(0);
      const { end, edit } = mended[0]!;
      const after = applyEdit(template.tree, edit);
      if (!after.ok) throw new Error(after.problems[0]?.what);
      const left = looseEndsOf({ ...template, tree: after.value.tree }, index, undefined, theme);
      expect(left.map(({ what }) => what)).not.toContain(end.what);
    });

  it('name a place in the settings that their element has', () => {
    for (const nested of Object.values(BROKEN)) {
      const template = templateOf(nested);
      for (const end of looseEndsOf(template, index, undefined, theme))
        expect(placeOfEnd(end, template.tree.elements[end.elementId]!).words).toBeTruthy();
    }
  });

  it('open what a new element is first asked: what it repeats, its branches, its words, or how it stands', () => {
    const tabs = Object.fromEntries(elements.map((kind) => [kind.name, firstTab(kind)]));
    expect(tabs).toMatchObject({
      loop: 'repeats',
      alternatives: 'branches',
      text: 'values',
      picture: 'values',
      table: 'values',
    });
    expect(tabs).toMatchObject({
      box: 'looks',
      section: 'looks',
      columns: 'looks',
      divider: 'looks',
      spacer: 'looks',
      part: 'looks',
    });
  });
});

describe('contrast', () => {
  it('is that of WCAG 2.2, text and grounds seen through each other', () => {
    // WCAG 2.2, contrast ratio: black on white is 21, a colour on itself 1.
    expect(contrast('#000', '#fff')).toBeCloseTo(21, 5);
    expect(contrast('#5b2b4c', '#5b2b4c')).toBe(1);
    // Greys at either side of 4.5 on white: common practice.
    expect(contrast('#767676', '#fff')).toBeGreaterThan(4.5);
    expect(contrast('#777777', '#fff')).toBeLessThan(4.5);
    expect(contrastOver('#767676', [])).toMatchObject({ ground: '#ffffff' });
    // Half-transparent black on white is the grey in the middle (Compositing Level 1).
    expect(contrastOver('#fff', ['rgb(0 0 0 / 50%)', '#fff']).ground).toBe('#808080');
    expect(contrastOver('rgb(0 0 0 / 0.5)', ['#ffffff']).ratio).toBeCloseTo(contrast('#808080', '#fff'), 1);
    for (const ground of ['#123', '#fedcba', '#808080', 'rgb(10 200 90)'])
      expect(contrast(inkOn(ground), ground)).toBeGreaterThanOrEqual(4.5);
  });

  it('offers the colour of the theme that reads best', () => {
    const template = templateOf({ kind: 'box', children: [heading(1)] });
    const id = template.tree.elements[template.tree.root]!.children[0]!;
    const end = { elementId: id, via: 'contrast', at: 'contrast #fff8e8 4.5', what: '', fix: '' };
    const edit = mendOf(end, { tree: template.tree, elements: new Map(), model: index, theme })!;
    const [first] = edit.operations;
    const key = first?.do === 'put' && String(first.value);
    const value = theme.colour.find((one) => one.key === key)!.value;
    expect(contrast(value, '#fff8e8')).toBeGreaterThan(4.5);
    const none = mendOf(end, {
      tree: template.tree,
      elements: new Map(),
      model: index,
      theme: { ...theme, colour: [] },
    });
    expect(none).toBeUndefined();
  });
});

describe('first choices', () => {
  const dated = indexModel({
    ...model,
    types: model.types.map((type) =>
      type.id === 'way' ? { ...type, address: '/{+base}/{year}/{slug}'.replace('{+base}', type.base) } : type,
    ),
  });
  const ground = (known: typeof index, serves: Template['serves']) => ({
    tree: treeFrom({ kind: 'box' }),
    index: known,
    typeId: 'house',
    scopesIn: () => scopesOf({ purpose: serves[0]!.on === 'type' ? 'record' : 'archive', serves }, known),
  });

  it('a loop goes over one type that the page is related to, a journal with the newest first', () => {
    const start = startLoop(ground(index, [{ on: 'type', typeId: 'house' }]), '') as {
      source: { typeIds: string[] };
      order: unknown;
    };
    expect(start.source.typeIds).toHaveLength(1);
    const related = index
      .type('house')!
      .fields.flatMap((field) => (field.settings.typeIds as string[] | undefined) ?? []);
    expect(related).toContain(start.source.typeIds[0]);
    expect(start.order).toBeUndefined();
    const newest = startLoop({ ...ground(dated, [{ on: 'type', typeId: 'house' }]), typeId: 'person' }, '');
    const named = (newest.source as { typeIds: string[] }).typeIds[0];
    expect(newest.order).toEqual(named === 'way' ? [{ steps: ['@published'], down: true }] : undefined);
    const order = (known: typeof index) =>
      Object.values(
        archiveTree({ on: 'type', typeIds: ['way'] } as Parameters<typeof archiveTree>[0], known).elements,
      ).find(({ kind }) => kind === 'loop')!.props.order;
    expect(order(dated)).toEqual([{ steps: ['@published'], down: true }]);
    expect(order(index)).toEqual([{ steps: ['@title'], down: false }]);
  });

  it('a picture that has no alternative text is not called empty', () => {
    const bare = { ...picture(8), alt: '', name: 'ridge.webp' };
    const rule = compileRule({ test: 'filled', path: own('photo') }, houseScopes, index);
    const saw = (photo: number | null) => explain(rule, envOf([record(1, 'house', { photo })], [bare])).saw;
    expect(saw(8)).toBe('ridge.webp');
    expect(saw(null)).toBe('nothing');
    const gallery = compileRule({ test: 'filled', path: own('gallery') }, houseScopes, index);
    expect(explain(gallery, envOf([record(1, 'house', { gallery: [8, 8] })], [bare])).saw).toBe(
      'ridge.webp and ridge.webp',
    );
  });
});
