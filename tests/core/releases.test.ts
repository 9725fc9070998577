import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { indexModel, type Field } from '../../src/lib/core/model/model';
import type { ContentType } from '../../src/lib/core/schema/model';
import { MenuSchema, type MenuEntry } from '../../src/lib/core/schema/menu';
import { menuRows, moveEntry, withEntry } from '../../src/lib/core/model/menu';
import { canonical } from '../../src/lib/core/releases/canonical';
import { looksChanged } from '../../src/lib/core/releases/looks';
import { changesBetween } from '../../src/lib/core/releases/compare';
import { withModel } from '../../src/lib/core/releases/earlier';
import {
  besideOf,
  DesignSchema,
  storedTypes,
  modelDesign,
  underDesign,
  type Design,
} from '../../src/lib/core/releases/design';
import { addressOf } from '../../src/lib/core/addresses/addresses';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Template } from '../../src/lib/core/schema/template';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import { index, model, record } from '../support/world';

const template = (id: string, more: Partial<Template> = {}): Template => ({
  id,
  name: id,
  purpose: 'record',
  serves: [{ on: 'type', typeId: 'house' }],
  order: 0,
  version: 1,
  tree: treeFrom({
    kind: 'box',
    id: 'root',
    children: [
      { kind: 'heading', id: 'h', slots: { text: boundTo('record', ['@title']) } },
      { kind: 'text', id: 't', slots: { text: boundTo('record', ['story']) } },
    ],
  }),
  ...more,
});
const design = (more: Partial<Design> = {}): Design => ({
  templates: [template('page')],
  rules: [],
  menus: [],
  theme: BUILT_IN,
  ...modelDesign(model),
  ...more,
});
const changed = (tree: Template['tree'], change: (elements: Template['tree']['elements']) => void) => {
  const copy = structuredClone(tree);
  change(copy.elements);
  return copy;
};
const withType = (id: string, change: Partial<ContentType>): ContentType[] =>
  model.types.map((type) => (type.id === id ? { ...type, ...change } : type));
const house = model.types[0]!;
const withField = (id: string, change: Partial<Field>) =>
  withType('house', { fields: house.fields.map((field) => (field.id === id ? { ...field, ...change } : field)) });
const details = (after: Design, before = design()) =>
  changesBetween(before, after, index).map(({ what, how, name, details: d }) => [what, how, name, ...d]);

describe('what a release changes', () => {
  it('is nothing where only versions have counted up', () => {
    expect(changesBetween(design(), design({ templates: [template('page', { version: 9 })] }), index)).toEqual([]);
  });

  it('names templates that are new, gone, renamed, and serve something else', () => {
    expect(details(design({ templates: [template('other', { name: 'Other' })] }))).toEqual([
      ['template', 'new', 'Other'],
      ['template', 'gone', 'page'],
    ]);
    expect(
      details(
        design({ templates: [template('page', { name: 'House page', serves: [{ on: 'term', termId: 'north' }] })] }),
      ),
    ).toEqual([
      [
        'template',
        'changed',
        'House page',
        'Renamed from “page”',
        'Serves what is filed under North or below; before: serves all houses',
      ],
    ]);
  });

  it('names the elements of a template by what was done to them', () => {
    const tree = changed(template('page').tree, (elements) => {
      elements.new = { id: 'new', kind: 'divider', props: {}, slots: {}, children: [] };
      elements.root!.children = ['t', 'new', 'h'];
      elements.h!.rule = { group: 'all', rules: [{ test: 'filled', path: { from: 'record', steps: ['story'] } }] };
      elements.t!.slots = { text: { fixed: 'Words' } };
      elements.t!.css = '& { color: red }';
    });
    expect(details(design({ templates: [template('page', { tree })] }))).toEqual([
      [
        'template',
        'changed',
        'page',
        'Added: “Divider”',
        'Moved: “Title”, “Words”',
        'Other values or words: “Words”',
        'Other rule: “Title”',
        'Other looks: “Words”',
      ],
    ]);
    const without = changed(template('page').tree, (elements) => {
      elements.root!.children = ['h'];
      delete elements.t;
    });
    expect(details(design({ templates: [template('page', { tree: without })] }))).toEqual([
      ['template', 'changed', 'page', 'Taken out: “Story”'],
    ]);
  });

  it('names tokens, menus, rules, addresses, what programs are told, and the order', () => {
    const rule = { id: 'r', name: 'High', typeId: 'house', version: 1, rule: { group: 'all' as const, rules: [] } };
    const menu = { id: 'm', name: 'Main', version: 1, entries: [] };
    const theme = {
      ...BUILT_IN,
      colour: BUILT_IN.colour.map((one) => (one.key === 'ink' ? { ...one, value: '#000000' } : one)),
    };
    const types = withType('house', {
      base: 'homes',
      address: '/homes/{year}/{slug}',
      structured: { is: 'House', properties: [] },
    });
    expect(details(design({ rules: [rule], menus: [menu], theme, types }))).toEqual([
      [
        'addresses',
        'changed',
        'Houses',
        'Archive at /homes/; before at /houses/',
        'Records at /homes/{year}/{slug}; before at /houses/{slug}',
      ],
      ['structured', 'changed', 'Houses', 'Told to programs as House'],
      ['rule', 'new', 'High'],
      ['menu', 'new', 'Main'],
      ['theme', 'changed', 'Theme', 'colour: Ink'],
    ]);
    const two = (a: number, b: number) =>
      design({ templates: [template('a', { order: a }), template('b', { order: b })] });
    expect(details(two(1, 0), two(0, 1))).toEqual([['order', 'changed', 'Order of templates', 'b, a']]);
  });

  it('is the same whatever the order of keys', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.string(), fc.jsonValue()), (value) => {
        const turned = Object.fromEntries(Object.entries(value).reverse());
        expect(canonical(turned)).toBe(canonical(value));
      }),
    );
  });
});

describe('a design', () => {
  it('reads back as it was written', () => {
    expect(DesignSchema.parse(JSON.parse(JSON.stringify(design())))).toEqual(design());
  });

  it('decides addresses, menus and rules over content as it is', () => {
    const released = design({ types: [{ ...house, base: 'homes', address: '/homes/{slug}' }] });
    const live = { ...model, types: model.types.map((type) => ({ ...type, address: '/elsewhere/{slug}' })) };
    const under = underDesign(live, released);
    expect(addressOf(record(1, 'house', {}, { slug: 'a' }), under)).toBe('/homes/a');
    expect([under.menus, under.rules]).toEqual([[], []]);
    // A type that came later is not seen, nor are the terms of such a taxonomy.
    expect(under.types.map(({ id }) => id)).toEqual(['house']);
    expect(underDesign(live, design({ taxonomies: [] })).terms).toEqual([]);
    // What the draft has given up is given up.
    const bare = underDesign(indexModel(live), design({ types: [house] }));
    expect(addressOf(record(1, 'house', {}, { slug: 'a' }), bare)).toBe('/houses/a');
  });

  it('has names, units, options and removals wait, and kinds hold at once', () => {
    const now = {
      ...model,
      types: withType('house', {
        name: 'Hut',
        fields: house.fields
          .filter(({ id }) => id !== 'story')
          .map((field) =>
            field.id === 'height'
              ? { ...field, label: 'Altitude', settings: { unit: 'ft' } }
              : field.id === 'stars'
                ? { ...field, label: 'Sterne', kind: 'text', settings: {} }
                : field.id === 'state'
                  ? {
                      ...field,
                      settings: {
                        options: [
                          { key: 'new', label: 'New' },
                          { key: 'good', label: 'Fine' },
                        ],
                        gone: [{ key: 'poor', label: 'Poor' }],
                      },
                    }
                  : field,
          ),
      }),
    };
    const seen = underDesign(now, design());
    const own = (id: string) => seen.field(id)?.field;
    expect(seen.type('house')?.name).toBe('House');
    expect(own('story')?.label).toBe('Story');
    expect([own('height')?.label, own('height')?.settings.unit]).toEqual(['Height', 'm']);
    expect([own('stars')?.label, own('stars')?.kind]).toEqual(['Stars', 'text']);
    // Words as released; what records may have come to since is called what it is called now.
    expect(own('state')?.settings).toEqual({
      options: ['good', 'fair', 'poor'].map((key) => ({ key, label: key.toUpperCase() })),
      gone: [{ key: 'new', label: 'New' }],
    });
    // What is kept is what both have; each knows what is only the other's, and what is looked up in another order.
    const kept = storedTypes(now.types, seen.types);
    expect(kept.find(({ id }) => id === 'house')?.fields.map(({ id }) => id)).toContain('story');
    expect(besideOf(seen.types, kept)).toEqual({ types: [], fields: [], written: new Map() });
    const beside = besideOf(now.types, kept);
    expect([beside.fields, [...beside.written.keys()]]).toEqual([['story'], ['state']]);
    const without = besideOf(
      now.types.filter(({ id }) => id !== 'house'),
      kept,
    );
    expect([without.types, without.fields.includes('story')]).toEqual([['house'], true]);
  });

  it('takes the model of its time from where it stood, if it was written without one', () => {
    const { taxonomies: _, ...rest } = design();
    const before = { ...rest, types: { house: { base: 'homes' } } };
    const whole = withModel(before, { ...model, types: withType('house', { address: '/x/{slug}' }) });
    expect(whole && DesignSchema.parse(whole).types.map(({ base }) => base)).toEqual([
      'homes',
      ...model.types.slice(1).map(({ base }) => base),
    ]);
    expect(whole?.types[0]?.address).toBeUndefined();
    expect(withModel(design(), model)).toBeUndefined();
  });

  it('names what is different in the model', () => {
    const [first, ...others] = house.fields;
    expect(
      details(
        design({
          types: withType('house', {
            name: 'Hut',
            taxonomyIds: [],
            fields: [
              { ...first!, label: 'Called' },
              { ...first!, id: 'new', key: 'new', label: 'New' },
              ...others.slice(1),
            ],
          }),
        }),
      ),
    ).toEqual([
      [
        'type',
        'changed',
        'Houses',
        'One is called “Hut”; before “House”',
        'Filed under nothing; before Area',
        'Fields added: “New”',
        'Fields taken away: “Story”',
        'Field “Name” is called “Called”',
      ],
    ]);
    expect(details(design({ types: withField('height', { settings: { unit: 'ft' } }) }))).toEqual([
      ['type', 'changed', 'Houses', 'Other settings: “Height”'],
    ]);
    // What concerns only who writes is nobody else's.
    expect(details(design({ types: withField('height', { help: 'In metres', required: true, tab: 'More' }) }))).toEqual(
      [],
    );
    expect(details(design({ types: model.types.slice(1) })).at(0)).toEqual([
      'type',
      'gone',
      'Houses',
      'All its pages at /houses/ go',
    ]);
    expect(
      details(design({ types: [...model.types].reverse() }))
        .at(0)
        ?.slice(0, 3),
    ).toEqual(['type', 'changed', 'Order of content types']);
    expect(
      details(design({ taxonomies: model.taxonomies.map((one) => ({ ...one, key: 'zone', name: 'Zone' })) })),
    ).toEqual([['taxonomy', 'changed', 'Zone', 'Renamed from “Area”', 'Its terms at /zone/; before at /area/']]);
  });
});

describe('menus', () => {
  const entry = (id: string, below: MenuEntry[] = []): MenuEntry => ({ id, leads: { to: 'front' }, below });
  const entries = [entry('a'), entry('b', [entry('c'), entry('d')]), entry('e')];
  const shape = (list: readonly MenuEntry[]) =>
    menuRows(list)
      .map(({ entry: { id }, depth }) => '-'.repeat(depth) + id)
      .join(' ');

  it('are moved among their neighbours, in and out', () => {
    expect(shape(moveEntry(entries, 'b', 'up'))).toBe('b -c -d a e');
    expect(shape(moveEntry(entries, 'b', 'down'))).toBe('a e b -c -d');
    expect(shape(moveEntry(entries, 'e', 'in'))).toBe('a b -c -d -e');
    expect(shape(moveEntry(entries, 'c', 'out'))).toBe('a b -d c e');
    expect(shape(moveEntry(entries, 'd', 'in'))).toBe('a b -c --d e');
    for (const how of ['out', 'in', 'up'] as const) expect(shape(moveEntry(entries, 'a', how))).toBe(shape(entries));
    expect(shape(withEntry(entries, 'b', () => undefined))).toBe('a e');
  });

  it('lose nothing, however they are moved', () => {
    const move = fc.record({
      id: fc.constantFrom('a', 'b', 'c', 'd', 'e'),
      how: fc.constantFrom('up', 'down', 'in', 'out'),
    });
    fc.assert(
      fc.property(fc.array(move, { maxLength: 12 }), (moves) => {
        const after = moves.reduce<readonly MenuEntry[]>((now, { id, how }) => moveEntry(now, id, how), entries);
        expect(
          menuRows(after)
            .map((row) => row.entry.id)
            .sort(),
        ).toEqual(['a', 'b', 'c', 'd', 'e']);
      }),
    );
  });

  it('refuse addresses that are none, links without words, and more than four levels', () => {
    const wrong = (list: unknown[]) =>
      MenuSchema.safeParse({ id: 'm', name: 'M', version: 1, entries: list }).error?.issues[0]?.message;
    const link = (url: string, label?: string) => [
      { id: 'x', leads: { to: 'link', url }, below: [], ...(label && { label }) },
    ];
    expect(wrong(link('https://a.example/x', 'A'))).toBeUndefined();
    expect(wrong(link('javascript:alert(1)', 'A'))).toMatch(/address/);
    expect(wrong(link('//a.example', 'A'))).toMatch(/address/);
    expect(wrong(link('/huts/'))).toMatch(/words/);
    expect(wrong([entry('1', [entry('2', [entry('3', [entry('4', [entry('5')])])])])])).toMatch(/4 levels/);
  });
});

describe('a difference between style sheets', () => {
  const seenOn = (before: string, after: string, html: string) => looksChanged(before, after)?.(html);
  it('is seen on the pages that have what its rules ask for, and on no others', () => {
    const page = '<body><main><p class="a"></p></main>';
    expect(seenOn('.a{color:red}', '.a{color:red}', page)).toBeUndefined();
    expect(seenOn('.a{color:red}', '.a{color:blue}', page)).toBe(true);
    expect(seenOn('.b{color:red}', '.b{color:blue}', page)).toBe(false);
    expect(seenOn(':root{--x:1}.a{top:var(--x)}', ':root{--x:2}.a{top:var(--x)}', page)).toBe(true);
    // What has to be within a page is on it or is not; of what may be within it, nothing is known.
    expect(seenOn('body:has(.b){color:red}', '', page)).toBe(false);
    expect(seenOn('body:has(.a){color:red}', '', page)).toBe(true);
    expect(seenOn('body:has(.a,.b){color:red}', '', page)).toBe(true);
  });
});
