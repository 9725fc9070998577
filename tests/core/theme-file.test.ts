import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { indexModel } from '../../src/lib/core/model/model';
import {
  fieldIds,
  parseThemeFile,
  sameUse,
  strayReads,
  suggestMapping,
  themeFile,
  withIds,
  type Ids,
} from '../../src/lib/core/releases/theme-file';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Template } from '../../src/lib/core/schema/template';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import { field, index, model } from '../support/world';

const ids = (given: Partial<Record<keyof Ids, Record<string, string>>>): Ids => ({
  types: new Map(Object.entries(given.types ?? {})),
  fields: new Map(Object.entries(given.fields ?? {})),
  taxonomies: new Map(Object.entries(given.taxonomies ?? {})),
  terms: new Map(Object.entries(given.terms ?? {})),
  templates: new Map(Object.entries(given.templates ?? {})),
  rules: new Map(Object.entries(given.rules ?? {})),
  menus: new Map(Object.entries(given.menus ?? {})),
});
/** Every id of the small world with an a in front. */
const moved = ids({
  types: { house: 'a-house', way: 'a-way' },
  fields: Object.fromEntries(model.types.flatMap(fieldIds).map((id) => [id, `a-${id}`])),
  taxonomies: { area: 'a-area' },
  terms: { north: 'a-north', peak: 'a-peak' },
  templates: { card: 'a-card' },
  rules: { high: 'a-high' },
  menus: { main: 'a-main' },
});
const template = (tree: Template['tree'], more: Partial<Template> = {}): Template => ({
  id: 'page',
  name: 'house',
  purpose: 'record',
  order: 0,
  version: 1,
  tree,
  serves: [{ on: 'type', typeId: 'house' }],
  ...more,
});

describe('ids of a theme made those of a site', () => {
  it('are known by the name they stand under; words that are spelled like one stay', () => {
    const before = template(
      treeFrom({
        kind: 'box',
        id: 'root',
        name: 'house',
        children: [
          { kind: 'heading', id: 'h', slots: { text: { fixed: 'name' } } },
          { kind: 'text', id: 't', slots: { text: boundTo('record', ['name'], { before: 'house ' }) } },
          {
            kind: 'loop',
            id: 'l',
            props: {
              source: { from: 'query', typeIds: ['way'] },
              filter: {
                group: 'all',
                rules: [
                  { test: 'terms.any', path: { from: 'loop:l', steps: ['@terms:area'] }, operand: ['north'] },
                  { named: 'high' },
                ],
              },
              order: [{ steps: ['height'], down: true }],
              visitors: { search: ['name'], facets: [{ step: '@terms:area', label: 'area' }], sorts: [] },
            },
            children: [{ kind: 'part', id: 'p', props: { part: 'card' } }],
          },
          {
            kind: 'table',
            id: 'rows',
            props: { columns: ['season_name'] },
            slots: { rows: boundTo('record', ['seasons']) },
          },
          { kind: 'menu', id: 'm', props: { menu: 'main', label: 'main' } },
        ],
      }),
      {
        serves: [
          { on: 'term', termId: 'peak', typeId: 'house' },
          { on: 'taxonomy', taxonomyId: 'area' },
        ],
      },
    );
    const after = withIds(before, moved);
    const { elements } = after.tree;
    expect(after.name).toBe('house');
    expect(after.serves).toEqual([
      { on: 'term', termId: 'a-peak', typeId: 'a-house' },
      { on: 'taxonomy', taxonomyId: 'a-area' },
    ]);
    expect(elements.root?.name).toBe('house');
    expect(elements.h?.slots.text).toEqual({ fixed: 'name' });
    expect(elements.t?.slots.text).toMatchObject({
      bound: { path: { from: 'record', steps: ['a-name'] }, before: 'house ' },
    });
    expect(elements.l?.props).toMatchObject({
      source: { from: 'query', typeIds: ['a-way'] },
      filter: {
        rules: [{ path: { from: 'loop:l', steps: ['@terms:a-area'] }, operand: ['a-north'] }, { named: 'a-high' }],
      },
      order: [{ steps: ['a-height'] }],
      visitors: { search: ['a-name'], facets: [{ step: '@terms:a-area', label: 'area' }] },
    });
    expect(elements.p?.props.part).toBe('a-card');
    expect(elements.m?.props).toMatchObject({ menu: 'a-main', label: 'main' });
    expect(elements.rows?.slots.rows).toMatchObject({ bound: { path: { steps: ['a-seasons'] } } });
    // Nothing else has changed, and without a map nothing at all.
    expect(withIds(before, ids({}))).toEqual(before);
  });

  it('compare choices by their keys, and terms by their ids', () => {
    const rule = (test: string, steps: string[], operand: unknown) =>
      withIds({ test, path: { from: 'record', steps }, operand }, moved).operand;
    expect(rule('choice.is', ['state'], 'house')).toBe('house');
    expect(rule('text.is', ['name'], 'north')).toBe('north');
    expect(rule('choice.is', ['@type'], 'house')).toBe('a-house');
    expect(rule('terms.below', ['@terms:area'], ['peak', 'other'])).toEqual(['a-peak', 'other']);
  });

  it('survive any JSON', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect(withIds(value, ids({}))).toEqual(value);
      }),
      { numRuns: 2000, examples: [[{ valueOf: '' }], [JSON.parse('{"__proto__":{"steps":[]}}') as never]] },
    );
  });
});

describe('the mapping that is suggested', () => {
  const file = themeFile(
    model,
    { templates: [template(treeFrom({ kind: 'box' }))], rules: [], menus: [], theme: BUILT_IN },
    '2026-11-25T00:00:00Z',
  );
  it('takes what has the same id, else the same key, where it is of one use', () => {
    const mine = indexModel({
      ...model,
      types: [
        {
          ...model.types[0]!,
          id: 'lodge',
          fields: [
            field('title_of', 'text', {}, 'Name'),
            { ...field('tall', 'text', {}, 'Height'), key: 'height' },
            { ...field('called', 'longtext', {}, 'Called'), key: 'name' },
          ],
        },
      ],
      taxonomies: [{ ...model.taxonomies[0]!, id: 'regions' }],
    });
    const { types, fields, taxonomies, theme } = suggestMapping(file, mine);
    expect(types).toEqual({ house: { as: 'lodge' }, way: 'new', person: 'new' });
    // A text is no number; a long text is read like a short one.
    expect([fields.height, fields.name, fields.photo]).toEqual(['new', { as: 'called' }, 'new']);
    expect(taxonomies).toEqual({ area: { as: 'regions' } });
    expect(theme).toBe(false);
    expect(sameUse(field('a', 'picture'), field('b', 'pictures'))).toBe(true);
    expect(sameUse(field('a', 'nonsense'), field('b', 'text'))).toBe(false);
  });

  it('counts what would read nothing', () => {
    const reads = template(
      treeFrom({
        kind: 'box',
        children: [
          { kind: 'text', slots: { text: boundTo('record', ['name']) } },
          {
            kind: 'text',
            slots: { text: boundTo('record', ['gone']) },
            rule: { group: 'all', rules: [{ test: 'filled', path: { from: 'record', steps: ['gone'] } }] },
          },
        ],
      }),
    );
    expect(strayReads(reads, new Set(index.types.flatMap(fieldIds)))).toBe(2);
  });

  it('reads the file that was written, and no other', () => {
    const read = parseThemeFile(JSON.parse(JSON.stringify(file)));
    expect(read.ok && read.value).toEqual(file);
    for (const wrong of [
      undefined,
      3,
      'x',
      [],
      {},
      { format: 'plum-thread-theme' },
      { ...file, theme: {} },
      { ...file, extra: 1 },
    ])
      expect(parseThemeFile(wrong).ok).toBe(false);
  });
});
