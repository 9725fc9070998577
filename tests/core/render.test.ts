import { HtmlValidate } from 'html-validate';
import { describe, expect, it } from 'vitest';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { compileTree, type CompileOptions } from '../../src/lib/core/render/compile';
import { drawPage } from '../../src/lib/core/render/page';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { archiveTree, recordTree } from '../../src/lib/core/templates/start';
import { Trace } from '../../src/lib/core/paths/trace';
import { envOf, houseScopes, index, model, picture, record } from '../support/world';

function draw(nested: Nested, records: ContentRecord[], options: CompileOptions = {}) {
  const compiled = compileTree(treeFrom(nested), houseScopes, index, options);
  return {
    html: compiled.draw(envOf(records, [picture(8), picture(9, 'A <b>bold</b> "photo"')])),
    looseEnds: compiled.looseEnds,
    compiled,
  };
}
const text = (steps: string[], more?: Parameters<typeof boundTo>[2], from = 'record'): Nested => ({
  kind: 'text',
  slots: { text: boundTo(from, steps, more) },
});

/** The site's own pages hold to the standard rules; only what is not about validity is left out. */
const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: {
    'no-inline-style': 'error',
    'long-title': 'off',
    'void-style': 'off',
    'tel-non-breaking': 'off',
    'prefer-native-element': 'off',
  },
});

describe('drawing', () => {
  it('escapes what it is given, wherever it stands', () => {
    const nasty = `<script>alert("1")</script>'&`;
    const { html } = draw(
      {
        kind: 'box',
        children: [
          {
            kind: 'heading',
            slots: {
              text: boundTo('record', ['@title'], { before: '<b>', after: '"' }),
              link: { fixed: 'javascript:alert(1)' },
            },
          },
          text(['story'], { fallbacks: [{ text: nasty }] }),
          { kind: 'text', slots: { text: { fixed: nasty } } },
          {
            kind: 'picture',
            slots: { source: boundTo('record', ['photo']), alt: { fixed: nasty }, link: boundTo('record', ['web']) },
          },
          { kind: 'link', slots: { label: { fixed: nasty }, link: { fixed: '/x"onclick="y' } } },
        ],
      },
      [record(1, 'house', { photo: 9, web: { url: 'JAVASCRIPT:alert(1)' } }, { title: nasty })],
    );
    expect(html).not.toContain('<script');
    expect(html).not.toContain('<b>');
    expect(html.toLowerCase()).not.toContain('javascript:');
    expect(html).not.toMatch(/"onclick="/);
    expect(html).toContain('&lt;script&gt;');
  });

  it('drops what is empty, and boxes left with nothing', () => {
    const nested: Nested = {
      kind: 'box',
      children: [
        {
          kind: 'box',
          props: { ground: 'tint' },
          children: [text(['name']), { kind: 'picture', slots: { source: boundTo('record', ['photo']) } }],
        },
        text(['height']),
      ],
    };
    expect(draw(nested, [record(1, 'house', { height: 0, photo: 77 })]).html).toBe(
      '<div class="stack gap-m"><p class="text">0\u00a0m</p></div>',
    );
    expect(draw(nested, [record(1, 'house')]).html).toBe('');
  });

  it('resolves, falls back, takes, formats and puts words around', () => {
    const people = [record(2, 'way', { km: 2 }), record(3, 'way', { km: 4 }), record(4, 'way')];
    const house = record(1, 'house', { ways: [2, 3, 4], story: 'One two three.\n\nFour.\nFive', built: '2026-05-31' });
    const html = (nested: Nested) => draw(nested, [house, ...people]).html;
    expect(
      html(text(['name'], { fallbacks: [{ path: { from: 'record', steps: ['@title'] } }], before: 'Called ' })),
    ).toBe('<p class="text">Called house 1</p>');
    expect(html(text(['name'], { fallbacks: [{ text: 'nothing' }], after: '.' }))).toBe('<p class="text">nothing.</p>');
    expect(html(text(['ways', 'km'], { take: 'sum', after: ' in all' }))).toBe('<p class="text">6\u00a0km in all</p>');
    expect(
      html(
        text(['ways', 'km'], {
          take: 'average',
          formats: [{ format: 'number', options: { decimals: 2, unit: false } }],
        }),
      ),
    ).toBe('<p class="text">3.00</p>');
    expect(
      html(text(['ways', 'km'], { take: 'listed', formats: [{ format: 'number', options: { decimals: 1 } }] })),
    ).toBe('<p class="text">2.0\u00a0km and 4.0\u00a0km</p>');
    expect(html(text(['ways'], { take: 'count' }))).toBe('<p class="text">3</p>');
    expect(html(text(['ways'], { take: 'listed' }))).toBe('<p class="text">way 2, way 3 and way 4</p>');
    expect(
      html(text(['ways', '@title'], { take: 'last', formats: [{ format: 'case', options: { to: 'upper' } }] })),
    ).toBe('<p class="text">WAY 4</p>');
    expect(html(text(['story']))).toBe('<div class="text"><p>One two three.</p><p>Four.<br>Five</p></div>');
    expect(html(text(['story'], { formats: [{ format: 'cut', options: { count: 2, by: 'words' } }] }))).toBe(
      '<p class="text">One two…</p>',
    );
    expect(
      html(text(['built'], { formats: [{ format: 'date', options: { style: 'pattern', pattern: 'd.M.yy' } }] })),
    ).toBe('<p class="text">31.5.26</p>');
  });

  it('refuses what does not fit, with a repair', () => {
    const ends = (nested: Nested) =>
      draw(nested, [record(1, 'house')]).looseEnds.map((end) => [end.via, end.what, end.fix]);
    expect(ends(text(['photo']))).toEqual([['text', 'Photo is picture; this takes text.', 'Choose text.']]);
    expect(ends({ kind: 'picture', slots: { source: boundTo('record', ['name']) } })[0]?.[1]).toBe(
      'Name is text; this takes a picture.',
    );
    expect(ends({ kind: 'link', slots: { label: { fixed: 'x' }, link: boundTo('record', ['ways']) } })[0]).toEqual([
      'link',
      'Ways has several values; this takes one.',
      'Use the first, or repeat over them.',
    ]);
    expect(ends(text(['name'], { formats: [{ format: 'date', options: {} }] }))[0]?.[1]).toBe(
      'The format “Date” does not fit Name.',
    );
    expect(ends(text(['gone']))[0]?.[1]).toBe('The field this was bound to has been deleted.');
    expect(draw(text(['gone'], { fallbacks: [{ text: 'still here' }] }), [record(1, 'house')]).html).toBe(
      '<p class="text">still here</p>',
    );
  });

  it('hides by rule, and the content is not in the page at all', () => {
    const nested: Nested = {
      kind: 'box',
      children: [
        {
          ...text(['name']),
          rule: { group: 'all', rules: [{ test: 'yesno.yes', path: { from: 'record', steps: ['open'] } }] },
        },
      ],
    };
    expect(draw(nested, [record(1, 'house', { name: 'secret', open: false })]).html).toBe('');
    expect(draw(nested, [record(1, 'house', { name: 'secret', open: true })]).html).toContain('secret');
  });

  it('repeats, reads each scope by name, and leaks nothing', () => {
    const houses = [
      record(1, 'house', { ways: [3, 4] }),
      record(2, 'house', { ways: [4] }),
      record(3, 'way', { km: 1, houses: [1] }),
      record(4, 'way', { km: 2, houses: [1, 2] }),
    ];
    const loop = (id: string, source: object, children: Nested[]): Nested => ({
      kind: 'loop',
      id,
      props: { source, arrange: 'list' },
      children,
    });
    const { html } = draw(
      {
        kind: 'box',
        children: [
          loop('outer', { from: 'query', typeIds: ['house'] }, [
            text(['@title'], {}, 'loop:outer'),
            loop('inner', { from: 'relation', path: { from: 'loop:outer', steps: ['ways'] } }, [
              text(['@title'], {}, 'loop:inner'),
              text(['@title'], {}, 'loop:outer'),
              text(['@title']),
            ]),
            text(['@position'], {}, 'loop:outer'),
          ]),
          text(['@title']),
        ],
      },
      houses,
    );
    const words = [...html.matchAll(/>([^<>]+)</g)].map((match) => match[1]);
    expect(words).toEqual([
      'house 1',
      'way 3',
      'house 1',
      'house 1',
      'way 4',
      'house 1',
      'house 1',
      '1',
      'house 2',
      'way 4',
      'house 2',
      'house 1',
      '2',
      'house 1',
    ]);
  });

  it('tells while designing what became of each element', () => {
    const hidden: Nested = {
      kind: 'text',
      id: 'never',
      slots: { text: { fixed: 'x' } },
      rule: { group: 'all', rules: [{ test: 'empty', path: { from: 'record', steps: ['@title'] } }] },
    };
    const compiled = compileTree(
      treeFrom({
        kind: 'box',
        id: 'root',
        children: [hidden, { ...text(['name']), id: 'bare' }, { ...text(['@title']), id: 'there' }],
      }),
      houseScopes,
      index,
      { studio: true },
    );
    const trace = new Trace();
    const html = compiled.draw(envOf([record(1, 'house')], [], { trace }));
    expect(Object.fromEntries(trace.tally())).toEqual({
      never: { drawn: 0, rule: 1, empty: 0 },
      bare: { drawn: 0, rule: 0, empty: 1 },
      there: { drawn: 1, rule: 0, empty: 0 },
      root: { drawn: 1, rule: 0, empty: 0 },
    });
    expect(html).toContain('data-element="there" data-bound');
  });

  it('gives pictures their sizes, and loads all but the first late', () => {
    const two: Nested = {
      kind: 'box',
      children: [1, 2].map(() => ({ kind: 'picture', slots: { source: boundTo('record', ['photo']) } })),
    };
    const { html } = draw(two, [record(1, 'house', { photo: 8 })]);
    expect(html.match(/<img /g)).toHaveLength(2);
    expect(html.match(/loading="lazy"/g)).toHaveLength(1);
    expect(html).toContain(
      'srcset="/media/8/320.webp 320w, /media/8/640.webp 640w, /media/8/960.webp 960w, /media/8/1280.webp 1280w"',
    );
    expect(html).toContain('width="1600" height="900" alt="Picture 8"');
  });

  it('makes pages that html-validate finds right', async () => {
    const house = record(
      1,
      'house',
      {
        name: 'A & B',
        story: 'One.\n\nTwo.',
        photo: 9,
        height: 12,
        web: { url: 'https://a.example/?a=1&b=2' },
        ways: [3],
        keeper: [2],
        state: 'good',
        built: '2020-02-02',
        open: true,
      },
      { terms: ['hill'], title: 'Tom’s <house>' },
    );
    const records = [house, record(2, 'person', {}, { title: 'Ada' }), record(3, 'way')];
    for (const tree of [recordTree(model.types[0]!, index), archiveTree({ on: 'type', typeIds: ['house'] }, index)]) {
      const scopes = { recordTypeIds: ['house'], archive: { on: 'type' as const, typeIds: ['house'] }, loops: [] };
      const compiled = compileTree(tree, scopes, index);
      expect(compiled.looseEnds).toEqual([]);
      const main = compiled.draw(envOf(records, [picture(9)], { archive: { of: 'type', typeId: 'house', page: 1 } }));
      const html = drawPage(model.site, {
        title: house.title,
        main,
        styles: ['/site.css'],
        navigation: [{ label: 'Houses', url: '/houses/', current: true }],
        canonical: 'https://a.example/houses/house-1',
      });
      const report = await validator.validateString(html);
      expect(report.results.flatMap((result) => result.messages.map((m) => `${m.ruleId}: ${m.message}`))).toEqual([]);
    }
  });
});
