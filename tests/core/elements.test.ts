import fc from 'fast-check';
import { HtmlValidate } from 'html-validate';
import { describe, expect, it } from 'vitest';
import { coloursCss } from '../../src/lib/core/elements/common';
import { elementNamed, elements } from '../../src/lib/core/elements';
import { formats } from '../../src/lib/core/formats';
import { compileTree } from '../../src/lib/core/render/compile';
import { boundTo, newElement, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { parseTree } from '../../src/lib/core/templates/parse';
import { indexModel } from '../../src/lib/core/model/model';
import { envOf, field, houseScopes, index, model, picture, record } from '../support/world';

const house = record(1, 'house', {
  photo: 8,
  web: { url: 'https://a.example' },
  name: 'Name',
  ways: [2, 3],
  gallery: [8, 9],
  stars: 3.5,
  film: { src: '/player/winter' },
  sign: 'house',
  spot: { lat: 57.1, lon: -4.7, label: 'Here' },
  uses: ['walk', 'ski'],
  seasons: [
    { season: 'Winter', price: 12, beds: [{ bed: 'Bunk', count: 4 }] },
    { season: 'Summer & autumn', price: 9.5 },
  ],
});
const records = [{ ...house, terms: ['hill'] }, record(2, 'way', { km: 3 }), record(3, 'way')];
const env = (page?: number) =>
  envOf(
    records,
    [picture(8), picture(9)],
    page ? { record: undefined, archive: { of: 'type', typeId: 'way', page } } : {},
  );

/** An element of each kind with something to show in it. */
const FILLED: Record<string, Partial<Nested>> = {
  search: {},
  box: { children: [{ kind: 'text' }] },
  columns: { children: [{ kind: 'text' }, { kind: 'text' }] },
  heading: { slots: { text: boundTo('record', ['@title']), link: boundTo('record', ['@address']) } },
  text: { slots: { text: boundTo('record', ['name']) } },
  picture: { slots: { source: boundTo('record', ['photo']), link: boundTo('record', ['web']) } },
  link: { slots: { label: { fixed: 'Words' }, link: boundTo('record', ['web']) } },
  button: { slots: { label: { fixed: 'Words' }, link: boundTo('record', ['web']), icon: boundTo('record', ['sign']) } },
  section: { children: [{ kind: 'text' }], slots: { background: boundTo('record', ['photo']) } },
  quote: {
    slots: { words: boundTo('record', ['name']), source: { fixed: 'A warden' }, link: boundTo('record', ['web']) },
  },
  divider: {},
  spacer: {},
  pictures: { slots: { source: boundTo('record', ['gallery']) } },
  icon: { slots: { icon: boundTo('record', ['sign']), label: { fixed: 'House' } } },
  embed: { slots: { source: boundTo('record', ['film']), title: { fixed: 'A "film"' } } },
  list: { slots: { items: boundTo('record', ['ways']) } },
  table: { slots: { rows: boundTo('record', ['seasons']), caption: { fixed: 'Seasons' } } },
  chart: { slots: { rows: boundTo('record', ['seasons']) } },
  rating: { slots: { value: boundTo('record', ['stars']) } },
  map: { slots: { place: boundTo('record', ['spot']) } },
  terms: { slots: { terms: boundTo('record', ['@terms:area']) } },
  author: { slots: { name: boundTo('record', ['@title']), picture: boundTo('record', ['photo']) } },
  breadcrumbs: {},
  menu: { props: { menu: 'main' } },
  alternatives: { children: [{ kind: 'text' }] },
  turn: { children: [{ kind: 'text' }] },
  loop: {
    props: { source: { from: 'relation', path: { from: 'record', steps: ['ways'] } } },
    children: [{ kind: 'text' }],
  },
};

const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: { 'void-style': 'off', 'heading-level': 'off' },
});

describe('every kind of element', () => {
  it('is described completely, and works as it starts', () => {
    expect(new Set(elements.map((kind) => kind.name)).size).toBe(elements.length);
    for (const kind of elements) {
      expect(kind.label && kind.about && kind.sign.length).toBeTruthy();
      const props = kind.props.parse({}) as Record<string, unknown>;
      for (const control of kind.controls) {
        const known = control.name in props || control.as === 'about';
        expect([kind.name, control.name, known]).toEqual([kind.name, control.name, true]);
        // What a control offers is what the schema takes.
        for (const { value } of control.options ?? [])
          expect(kind.props.safeParse({ [control.name]: value }).success).toBe(true);
        if (control.as === 'pick')
          expect(kind.props.safeParse({ [control.name]: 'something else' }).success).toBe(false);
      }
      for (const slot of Object.keys(kind.starts ?? {})) expect(Object.keys(kind.slots)).toContain(slot);
      if (kind.brings) expect(Object.keys(kind.slots)).toContain(kind.brings.slot);
      expect(parseTree(treeFrom({ kind: kind.name })).ok).toBe(true);
    }
  });

  it('draws valid HTML with any of its settings, and nothing but a mark more for the canvas', async () => {
    const html: string[] = [];
    // A part, the slot of the frame and filters are drawn by what they stand for; see parts.test.ts and visitors.test.ts.
    for (const kind of elements.filter((one) => !['part', 'slot', 'filters'].includes(one.name))) {
      const settings = kind.controls.flatMap((control) =>
        (control.options ?? []).map(({ value }) => ({ [control.name]: value })),
      );
      for (const props of [{}, ...settings]) {
        const filled = FILLED[kind.name]!;
        const tree = treeFrom({ kind: kind.name, ...filled, props: { ...filled.props, ...props } });
        const drawn = compileTree(tree, houseScopes, index).draw(env());
        expect([kind.name, props, drawn.length > 0]).toEqual([kind.name, props, true]);
        const marked = compileTree(tree, houseScopes, index, { studio: true }).draw(env());
        const wrapper = ['alternatives', 'turn'].includes(kind.name)
          ? /^<div(?: class="alternatives")? data-element[^>]*>|<\/div>$/g
          : /^$/;
        expect(marked.replace(wrapper, '').replace(/ data-(element|loop|turn)="[^"]*"| data-bound/g, '')).toBe(drawn);
        html.push(drawn);
      }
    }
    const report = await validator.validateString(
      `<!DOCTYPE html><html lang="en"><head><title>All</title></head><body><main>${html.join('\n')}</main></body></html>`,
    );
    expect(report.results.flatMap((r) => r.messages.map((m) => `${m.ruleId}: ${m.message}`))).toEqual([]);
  });

  it('that has nothing to show is left out on the site, and shown as a blank on the canvas', () => {
    for (const kind of elements) {
      const slots = Object.fromEntries(Object.keys(kind.slots).map((name) => [name, { fixed: '' }]));
      const tree = treeFrom({ kind: kind.name, slots });
      if (kind.loop || ['divider', 'spacer', 'breadcrumbs', 'slot', 'search'].includes(kind.name)) continue;
      expect([kind.name, compileTree(tree, houseScopes, index).draw(env())]).toEqual([kind.name, '']);
      expect(compileTree(tree, houseScopes, index, { studio: true }).draw(env())).toContain('class="blank"');
    }
  });

  it('never lets a fixed value out as markup or as a script', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom('javascript:', 'data:', 'vbscript:', ''), (words, scheme) => {
        const nasty = `${scheme}"'><script>${words}`;
        for (const kind of elements) {
          if (kind.loop) continue;
          const slots = Object.fromEntries(Object.keys(kind.slots).map((name) => [name, { fixed: nasty }]));
          const html = compileTree(treeFrom({ kind: kind.name, slots }), houseScopes, index).draw(env());
          expect(html).not.toMatch(/<script/i);
          expect(html).not.toMatch(/href="\s*(javascript|data|vbscript):/i);
        }
      }),
      { numRuns: 60 },
    );
  });
});

describe('pages of an archive', () => {
  const many = Array.from({ length: 23 }, (_, i) => record(i + 1, 'way', { km: i }));
  const draw = (page: number, perPage: number) => {
    const tree = treeFrom({
      kind: 'loop',
      props: { source: { from: 'archive' }, perPage },
      children: [{ kind: 'text' }],
    });
    const at = envOf(many, [], { record: undefined, archive: { of: 'type', typeId: 'way', page } });
    return {
      html: compileTree(tree, { archive: { on: 'type', typeIds: ['way'] }, loops: [] }, index).draw(at),
      paging: at.paging,
    };
  };

  it('are real links, with the neighbours by name and the current one marked', () => {
    const { html, paging } = draw(2, 10);
    expect(paging).toEqual({ page: 2, pages: 3, total: 23 });
    expect(html).toContain('<a href="/ways/" rel="prev">Previous page</a>');
    expect(html).toContain('<a href="/ways/page/3/" rel="next">Next page</a>');
    expect(html).toContain('<a href="/ways/page/2/" aria-current="page">2</a>');
    expect(html.match(/aria-current/g)).toHaveLength(1);
  });

  it('leave far ones out, and are not there where one page is all', () => {
    expect(draw(12, 1).html).toContain('<li>…</li>');
    expect(draw(1, 2).html).not.toContain('rel="prev"');
    expect(draw(12, 2).html).not.toContain('rel="next"');
    expect(draw(1, 50).html).not.toContain('<nav');
    expect(draw(9, 10)).toMatchObject({ html: '', paging: { pages: 3 } });
  });

  it('count positions through all pages', () => {
    const tree = treeFrom({
      kind: 'loop',
      id: 'l',
      props: { source: { from: 'archive' }, perPage: 10 },
      children: [{ kind: 'text', slots: { text: boundTo('loop:l', ['@position']) } }],
    });
    const at = envOf(many, [], { record: undefined, archive: { of: 'type', typeId: 'way', page: 3 } });
    const html = compileTree(tree, { archive: { on: 'type', typeIds: ['way'] }, loops: [] }, index).draw(at);
    expect([...html.matchAll(/>(\d+)<\/p>/g)].map((m) => m[1])).toEqual(['21', '22', '23']);
  });
});

describe('formats', () => {
  it('are described completely, and work as they start', () => {
    expect(new Set(formats.map((format) => format.name)).size).toBe(formats.length);
    for (const format of formats) {
      expect(format.options.safeParse({}).success).toBe(true);
      const { shape } = format.options as unknown as { shape: object };
      for (const control of format.controls) {
        expect([format.name, control.name, control.name in shape]).toEqual([format.name, control.name, true]);
        for (const { value } of control.options ?? [])
          expect(format.options.safeParse({ [control.name]: value }).success).toBe(true);
      }
    }
  });

  it('refuse options that make no sense, and say why', () => {
    const problem = (name: string, options: object) => {
      const element = {
        kind: 'text',
        slots: { text: boundTo('record', ['name'], { formats: [{ format: name, options: options as never }] }) },
      };
      return compileTree(treeFrom(element), houseScopes, index).looseEnds[0]?.what;
    };
    expect(problem('cut', { count: 0 })).toBeDefined();
    expect(problem('cut', { count: 10, by: 'lines' })).toBeDefined();
    expect(problem('unheard-of', {})).toBe('There is no format named “unheard-of”.');
    expect(problem('case', { to: 'upper' })).toBeUndefined();
  });
});

describe('new elements', () => {
  it('have ids of their own and the settings they start with', () => {
    const ids = new Set(Array.from({ length: 200 }, () => newElement('text').id));
    expect(ids.size).toBe(200);
    expect(newElement('heading', { props: { level: 4 } }).props).toEqual({ level: 4, size: 'auto' });
    expect(() => newElement('nothing')).toThrow('There is no element named nothing');
    expect(elementNamed('nothing')).toBeUndefined();
  });
});

describe('coloured grounds', () => {
  it('have a class and a rule, with ink that reads well, and never a style attribute', () => {
    const tree = treeFrom({
      kind: 'box',
      slots: { colour: boundTo('record', ['tint']) },
      children: [{ kind: 'text' }],
    });
    const draw = (tint: unknown) => {
      const at = { ...env(), record: record(9, 'house', { tint }) };
      const html = compileTree(tree, houseScopes, index).draw(at);
      return { html, css: coloursCss(at.colours) };
    };
    const { html, css } = draw('#5b2b4c');
    expect(html).toContain('class="stack gap-m on-_5b2b4c"');
    expect(html).not.toContain('style=');
    expect(css).toMatch(/^\.on-_5b2b4c\{background-color:#5b2b4c;--text:#ffffff;/);
    expect(draw('#f8ecd0').css).toContain('--text:#1a1a1a');
    for (const bad of ['red}body{display:none', '</style><script>', 'url(x)"', undefined])
      expect(draw(bad).css).not.toMatch(/[<"]|body|display/);
  });
});

describe('a table from rows', () => {
  it('keeps pictures', () => {
    const own = structuredClone(model);
    const rows = own.types[0]!.fields.find(({ id }) => id === 'seasons')!;
    (rows.settings as { fields: unknown[] }).fields.push(field('plan', 'picture', {}, 'Plan'));
    const known = indexModel(own);
    const tree = treeFrom({ kind: 'table', slots: { rows: boundTo('record', ['seasons']) } });
    const html = compileTree(tree, houseScopes, known).draw(
      envOf(
        [
          record(1, 'house', {
            seasons: [
              { season: 'Summer', plan: 8 },
              { season: 'Winter', plan: 99 },
            ],
          }),
        ],
        [picture(8)],
        {
          model: known,
        },
      ),
    );
    expect(html.match(/<th scope="col"[^>]*>[^<]*/g)).toHaveLength(2);
    expect(html.match(/<img [^>]*alt="[^"]*"[^>]*>/g)).toHaveLength(1);
  });
});
