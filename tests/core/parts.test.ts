import { describe, expect, it } from 'vitest';
import { compileTree, scopesOf, type PartFinder } from '../../src/lib/core/render/compile';
import { boundTo, pieceFrom, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { shared } from '../../src/lib/core/templates/part';
import type { Purpose, Template } from '../../src/lib/core/schema/template';
import { usesOf } from '../../src/lib/core/templates/tree';
import { envOf, houseScopes, index, record } from '../support/world';

const template = (id: string, typeId: string | undefined, nested: Nested, purpose: Purpose = 'part'): Template => ({
  id,
  name: `The ${id}`,
  purpose,
  serves: typeId ? [{ on: 'type', typeId }] : [],
  order: 0,
  version: 1,
  tree: treeFrom(nested),
});
const finder =
  (...all: Template[]): PartFinder =>
  (id) =>
    all.find((one) => one.id === id);
const place = (part: string, about?: { from: string; steps: string[] }): Nested => ({
  kind: 'part',
  props: { part, ...(about ? { about } : {}) },
});
const title = (from = 'record', more = {}): Nested => ({
  kind: 'text',
  slots: { text: boundTo(from, ['@title'], more) },
});

const records = [
  record(1, 'house', { keeper: [3], ways: [4, 5] }, { title: 'Home' }),
  record(3, 'person', {}, { title: 'Keeper' }),
  record(4, 'way', {}, { title: 'First way' }),
  record(5, 'way', {}, { title: 'Second way' }),
];
const draw = (nested: Nested, parts: PartFinder) => {
  const made = compileTree(treeFrom(nested), houseScopes, index, { parts });
  return { html: made.draw(envOf(records)), ends: made.looseEnds, css: made.css };
};
const text = (html: string) => html.replace(/<[^>]*>/g, '|').replace(/\|+/g, '|');

describe('parts', () => {
  const wayCard = template('card', 'way', { kind: 'box', children: [title()] });
  const person = template('person', 'person', title());

  it('show the nearest record that fits, or the one they are given', () => {
    const loop: Nested = {
      kind: 'loop',
      id: 'ways',
      props: { source: { from: 'relation', path: { from: 'record', steps: ['ways'] } } },
      children: [place('card'), title('record', { before: 'of ' })],
    };
    const { html, ends } = draw(
      { kind: 'box', children: [place('person', { from: 'record', steps: ['keeper'] }), loop] },
      finder(wayCard, person),
    );
    expect(ends).toEqual([]);
    expect(text(html)).toBe('|Keeper|First way|of Home|Second way|of Home|');
  });

  it('stand in each other, and see nothing of the place but their record and the site', () => {
    const outer = template('outer', 'house', {
      kind: 'box',
      children: [place('person', { from: 'record', steps: ['keeper'] }), title('site'), title('loop:ways')],
    });
    const { html } = draw(
      {
        kind: 'loop',
        id: 'ways',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['ways'] } } },
        children: [place('outer'), title('loop:ways')],
      },
      finder(outer, person),
    );
    // Each turn: the keeper within, then the turn's own title again.
    expect(text(html)).toBe('|Keeper|First way|Keeper|Second way|');
  });

  it('cannot stand in themselves, by any number of steps', () => {
    const a = template('a', 'house', { kind: 'box', children: [title(), place('b')] });
    const b = template('b', 'house', { kind: 'box', children: [place('c')] });
    const c = template('c', 'house', { kind: 'box', children: [place('a')] });
    const parts = finder(a, b, c);
    const own = compileTree(a.tree, scopesOf(a, index), index, { parts, id: 'a' });
    expect(own.looseEnds.map((end) => [end.via, end.what])).toEqual([
      ['about', 'A part cannot stand in itself: The a → The b → The c → The a.'],
    ]);
    const { html, ends } = draw(place('a'), parts);
    expect(text(html)).toBe('|Home|');
    expect(ends.map((end) => end.at)).toEqual(['cycle']);
  });

  it('that are gone, or find no record, draw nothing and are told', () => {
    const { html, ends } = draw({ kind: 'box', children: [title(), place('gone'), place('card')] }, finder(wayCard));
    expect(text(html)).toBe('|Home|');
    expect(ends.map((end) => end.what)).toEqual([
      'The part that stood here has been deleted.',
      'This part shows a Way, and there is none here.',
    ]);
    expect(draw(place('card', { from: 'record', steps: ['keeper'] }), finder(wayCard)).ends[0]?.what).toContain('Way');
    // A page is no part.
    expect(draw(place('page'), finder(template('page', 'house', title(), 'record'))).ends).toHaveLength(1);
  });

  it('are styled once however often they stand', () => {
    const styled = template('styled', 'house', { ...title(), name: 'Line', style: { wide: { size: 'l' } } });
    const { css, html } = draw({ kind: 'box', children: [place('styled'), place('styled')] }, finder(styled));
    expect(css.match(/font-size/g)).toHaveLength(1);
    expect(html.match(/class="text line-/g)).toHaveLength(2);
  });

  it('see no record in a frame', () => {
    const frame = template('frame', undefined, title('site'), 'frame');
    expect(scopesOf(frame, index)).toEqual({ loops: [] });
    expect(scopesOf(template('p', undefined, title('site')), index)).toEqual({ loops: [] });
  });
});

describe('making a part of what stands in a template', () => {
  const loopScopes = compileTree(
    treeFrom({ kind: 'loop', id: 'l', props: { source: { from: 'query', typeIds: ['way'] } }, children: [] }),
    { recordTypeIds: ['house'], loops: [] },
    index,
  ).elements.get('l')!.inside;

  it('turns what it reads of the nearest record into what the part shows, its own loops included', () => {
    const piece = pieceFrom({
      kind: 'box',
      children: [
        { kind: 'text', slots: { text: boundTo('loop:l', ['@title']) } },
        { kind: 'text', slots: { text: boundTo('site', ['@name']) } },
        {
          kind: 'loop',
          id: 'own',
          props: { source: { from: 'relation', path: { from: 'loop:l', steps: ['houses'] } } },
          children: [{ kind: 'text', slots: { text: boundTo('loop:own', ['name']) } }],
        },
      ],
    });
    const made = shared(piece, loopScopes, index);
    if (!made.ok) throw new Error(made.problems[0]?.what);
    expect(made.value.typeId).toBe('way');
    const { looseEnds } = compileTree(made.value.tree, { recordTypeIds: ['way'], loops: [] }, index);
    expect(looseEnds.filter((end) => !end.what.includes('deleted'))).toEqual([]);
    expect(usesOf(made.value.tree).map((use) => use.path.from.replace(/:.*/, ''))).toEqual(
      expect.arrayContaining(['record', 'site', 'loop']),
    );
  });

  it.each<[string, Nested, string]>([
    ['the page’s record', { kind: 'text', slots: { text: boundTo('record', ['name']) } }, 'the record of the page'],
    [
      'its place in the loop',
      { kind: 'text', slots: { text: boundTo('loop:l', ['@position']) } },
      'its place in the loop',
    ],
  ])('is refused where it reads %s', (_what, nested, words) => {
    const made = shared(pieceFrom(nested), loopScopes, index);
    expect(made.ok ? '' : made.problems[0]?.what).toContain(words);
  });
});
