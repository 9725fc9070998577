import fc from 'fast-check';
import { HtmlValidate } from 'html-validate';
import MiniSearch from 'minisearch';
import { describe, expect, it } from 'vitest';
import { LoopSettingsSchema, type VisitorSettings } from '../../src/lib/core/schema/loop';
import { questionOf } from '../../src/lib/core/loops/visitors';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { indexModel } from '../../src/lib/core/model/model';
import { makeEnv } from '../../src/lib/core/paths/env';
import { compileTree } from '../../src/lib/core/render/compile';
import { searchWords } from '../../src/lib/core/base/words';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { envOf, index, model, record } from '../support/world';

const houses = [
  record(
    1,
    'house',
    { name: 'Ash', height: 10, open: true, state: 'good', uses: ['walk', 'ski'], built: '2001-05-04' },
    { terms: ['peak'], title: 'Grey crag' },
  ),
  record(
    2,
    'house',
    { name: 'Birch', height: 0, open: false, state: 'poor', uses: ['walk'], built: '2010-01-01' },
    { terms: ['hill', 'south'], title: 'Café by the fell' },
  ),
  record(
    3,
    'house',
    { name: 'Cedar', height: -5, state: 'good', seen: '2026-03-01T23:30:00.000Z' },
    { terms: ['south'], title: '霧の山小屋' },
  ),
  record(4, 'house', { open: true, uses: ['rest'] }, { title: 'Σίσυφος' }),
  record(5, 'house', { height: 10 }, { status: 'draft', terms: ['peak'] }),
];
const VISITORS: VisitorSettings = {
  search: ['@title', 'name'],
  facets: ['@terms:area', 'state', 'uses', 'open', 'height', 'built', 'seen'].map((step) => ({ step, label: '' })),
  sorts: [
    { step: 'height', label: 'Highest first', down: true },
    { step: '@title', label: '', down: false },
  ],
};

function page(asked: Record<string, string[]> = {}, more: Record<string, unknown> = {}, extra: Nested[] = []) {
  const tree = treeFrom({
    kind: 'box',
    children: [
      { kind: 'filters' },
      {
        kind: 'loop',
        id: 'l',
        name: 'House',
        props: {
          source: { from: 'archive' },
          visitors: VISITORS,
          order: [{ steps: ['@created'], down: false }],
          ...more,
        },
        slots: { nothing: { fixed: 'Nothing.' } },
        children: [{ kind: 'text', slots: { text: boundTo('loop:l', ['@title']) } }],
      },
      ...extra,
    ],
  });
  const made = compileTree(tree, { archive: { on: 'type', typeIds: ['house'] }, loops: [] }, index);
  const env = envOf(houses, [], { record: undefined, archive: { of: 'type', typeId: 'house', page: 1 }, asked });
  const html = made.draw(env);
  const titles = [...html.matchAll(/<p class="text[^"]*">([^<]*)<\/p>/g)].map((m) => m[1]);
  const ids = titles.map((title) => houses.find((house) => house.title === title)?.id);
  const count = (key: string, word: string) =>
    Number(new RegExp(`name="${key}" value="${word}"[^>]*> <span>[^<]*</span> <small>(\\d+)`).exec(html)?.[1] ?? 0);
  return { html, ids, count, made, env };
}

describe('what visitors choose of a list', () => {
  it.each<[string, Record<string, string[]>, number[]]>([
    ['nothing', {}, [1, 2, 3, 4]],
    ['a term, or what lies below it', { area: ['north'] }, [1, 2]],
    ['any of several terms', { area: ['peak', 'south'] }, [1, 2, 3]],
    ['a choice', { state: ['good'] }, [1, 3]],
    ['any of several choices', { state: ['good', 'poor'] }, [1, 2, 3]],
    ['one of the choices of a field with several', { uses: ['ski', 'rest'] }, [1, 4]],
    ['no', { open: ['no'] }, [2]],
    ['yes or no, which is not what has neither', { open: ['yes', 'no'] }, [1, 2, 4]],
    ['numbers from zero on', { 'height-from': ['0'] }, [1, 2]],
    ['numbers up to zero', { 'height-to': ['0'] }, [2, 3]],
    ['one number', { 'height-from': ['10'], 'height-to': ['10'] }, [1]],
    ['days', { 'built-from': ['2001-05-04'], 'built-to': ['2009-12-31'] }, [1]],
    ['a day with everything in it', { 'seen-to': ['2026-03-01'] }, [3]],
    ['not what begins on the next day', { 'seen-from': ['2026-03-02'] }, []],
    ['several things at once', { area: ['south'], state: ['good'] }, [3]],
    ['an order', { sort: ['highest-first'] }, [1, 2, 3, 4]],
    ['words, without case and accents', { q: ['CAFE'] }, [2]],
    ['the beginnings of words', { q: ['gr cr'] }, [1]],
    ['every word, wherever it stands', { q: ['ash crag'] }, [1]],
    ['but not the middle of a word', { q: ['rag'] }, []],
    ['words of scripts without spaces', { q: ['山小'] }, [3]],
    ['words of other scripts', { q: ['σισυφοσ'] }, [4]],
  ])('%s', (_what, asked, ids) => expect([...page(asked).ids].sort()).toEqual(ids));

  it('is counted by what each option would leave, its own facet aside', () => {
    const { count } = page({ area: ['north'] });
    // Two lie in the north; of one facet another option adds to what is chosen.
    expect([count('area', 'north'), count('area', 'south'), count('area', 'peak')]).toEqual([2, 2, 1]);
    expect([count('state', 'good'), count('state', 'poor'), count('state', 'fair')]).toEqual([1, 1, 0]);
    expect(count('uses', 'walk')).toBe(2);
  });

  it('that there is not is told, and left out', () => {
    const { html, ids } = page({ state: ['purple'], 'height-from': ['high'], sort: ['nowhere'], area: ['north', 'x'] });
    expect(ids).toEqual([1, 2]);
    for (const words of ['there is no “purple”', '“high” is no number', 'no order “nowhere”', 'there is no “x”'])
      expect(html).toContain(words);
  });

  it('of a hundred thousand values offers those with the most, and says how many more there are', () => {
    const MANY = 100_000;
    const terms = Array.from({ length: MANY }, (_, i) => ({
      id: `t${i}`,
      taxonomyId: 'area',
      parentId: null,
      name: `Term ${i}`,
      slug: `term-${i}`,
      position: i,
      description: '',
      pictureId: null,
    }));
    const many = indexModel({ ...model, terms, menus: [] });
    // Each stands for one house, and every five hundredth for two.
    const all = Array.from({ length: MANY }, (_, i) => record(i + 1, 'house', {}, { terms: [`t${i}`] }));
    const more = Array.from({ length: MANY / 500 }, (_, i) =>
      record(MANY + i + 1, 'house', {}, { terms: [`t${i * 500}`] }),
    );
    const tree = treeFrom({
      kind: 'box',
      children: [
        { kind: 'filters' },
        {
          kind: 'loop',
          id: 'l',
          name: 'House',
          props: {
            source: { from: 'archive' },
            visitors: { search: [], facets: [{ step: '@terms:area', label: '' }], sorts: [] },
            limit: 3,
          },
          children: [{ kind: 'text', slots: { text: boundTo('loop:l', ['@title']) } }],
        },
      ],
    });
    const made = compileTree(tree, { archive: { on: 'type', typeIds: ['house'] }, loops: [] }, many);
    const env = {
      ...makeEnv({ model: many, pool: memoryPool([...all, ...more], [], false), today: '2026-06-15' }),
      archive: { of: 'type' as const, typeId: 'house', page: 1 },
      asked: { area: ['term-7'] },
    };
    const html = made.draw(env);
    const offered = [...html.matchAll(/value="term-(\d+)"( checked)?> <span>[^<]*<\/span> <small>(\d+)</g)];
    expect(offered).toHaveLength(200);
    // What is chosen, and then the first 199 of the 200 that two houses have, in the order of terms.
    expect(offered.map(([, term]) => Number(term))).toEqual([
      0,
      7,
      ...Array.from({ length: 198 }, (_, i) => (i + 1) * 500),
    ]);
    expect(html).toContain('99,800 more are left out');
  });

  it('takes a search of five thousand characters, and says how much of it', () => {
    const { html, ids } = page({ q: ['grey '.repeat(1000)] });
    expect(ids).toEqual([1]);
    expect(html).toContain('200 characters at most');
    expect(page({ q: ['a b c d e f g h i j k l m n'] }).html).toContain('12 words at most');
    expect(page({ q: ['!?'] }).html).toContain('There is no word to search for');
  });

  it('goes on through the pages, and begins anew with the first', () => {
    const { html } = page({ area: ['north'] }, { perPage: 1 });
    expect(html).toContain('href="/houses/page/2/?area=north"');
    expect(html).toContain('<form method="get" action="/houses/">');
    expect(html).toContain('<a href="/houses/">Show all</a>');
  });

  it('keeps apart what is asked of several loops, also of one name', () => {
    const other = (id: string): Nested => ({
      kind: 'loop',
      id,
      name: 'House',
      props: { source: { from: 'query', typeIds: ['house'] }, visitors: VISITORS, perPage: 1, order: [] },
      children: [],
    });
    const { made } = page({}, {}, [other('m'), other('n')]);
    const keys = [...made.keys];
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys).toEqual(
      expect.arrayContaining(['q', 'area', 'house-q', 'house-page', 'house-2-page', 'house-2-area']),
    );
  });

  it('is a form that works without a script and is valid', async () => {
    const validator = new HtmlValidate({ extends: ['html-validate:recommended'], rules: { 'no-inline-style': 'off' } });
    const { html } = page({ area: ['north'], q: ['<b>"x"'], 'height-to': ['4'] });
    expect(html).not.toContain('<b>');
    const report = await validator.validateString(
      `<!DOCTYPE html><html lang="en"><head><title>All</title></head><body><main>${html}</main></body></html>`,
    );
    expect(report.results.flatMap((r) => r.messages.map((m) => `${m.ruleId}: ${m.message}`))).toEqual([]);
  });

  it('is understood or left out, whatever an address asks, and never comes out as markup', () => {
    const keys = fc.constantFrom(
      'q',
      'sort',
      'area',
      'state',
      'uses',
      'open',
      'height-from',
      'height-to',
      'built-from',
      'built-to',
      'seen-from',
      'seen-to',
      'page',
      '__proto__',
      'constructor',
    );
    const words = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 30 }),
      fc.constantFrom(
        'north',
        'good',
        'yes',
        '0',
        '-1',
        '1e999',
        'NaN',
        '0x10',
        '2026-02-30',
        '2026-13-01',
        '<script>',
        '"&\'',
        '%00',
        'highest-first',
        'zz',
        '__proto__',
        'toString',
      ),
    );
    const asked = fc.array(fc.tuple(keys, fc.array(words, { minLength: 1, maxLength: 3 })), { maxLength: 6 });
    fc.assert(
      fc.property(asked, (pairs) => {
        const given = Object.fromEntries(pairs) as Record<string, string[]>;
        const { html, ids, env } = page(given, { perPage: 2 });
        expect(html).not.toContain('<script');
        expect(ids.every((id) => id !== undefined && id < 5)).toBe(true);
        expect(env.pastEnd).toBeUndefined();
        // What is chosen is a part of all there is, and the count says how many.
        const found = Number(/role="status">(\d+) found/.exec(html)?.[1] ?? 0);
        expect(found).toBeLessThanOrEqual(4);
        expect(ids.length).toBe(Math.min(2, found));
      }),
      { numRuns: 500 },
    );
  });

  it('of any one filter counts what choosing it would leave', () => {
    const options: Record<string, string[]> = {
      area: ['north', 'hill', 'peak', 'south'],
      state: ['good', 'fair', 'poor'],
      uses: ['walk', 'ski', 'rest'],
      open: ['yes', 'no'],
    };
    const chosen = fc.record(
      Object.fromEntries(
        Object.entries(options).map(([key, words]) => [
          key,
          fc.option(
            fc.constantFrom(...words).map((word) => [word]),
            { nil: undefined },
          ),
        ]),
      ),
    );
    fc.assert(
      fc.property(chosen, (some) => {
        const asked = Object.fromEntries(
          Object.entries(some).flatMap(([key, words]) => (words ? [[key, words]] : [])),
        ) as Record<string, string[]>;
        const { count } = page(asked);
        for (const [key, words] of Object.entries(options))
          for (const word of words)
            expect([key, word, count(key, word)]).toEqual([key, word, page({ ...asked, [key]: [word] }).ids.length]);
      }),
      { numRuns: 60 },
    );
  });

  it('is refused where it cannot be chosen, with the reason', () => {
    const ends = (visitors: unknown, more: object = {}) =>
      page({}, { visitors: LoopSettingsSchema.shape.visitors.parse(visitors), ...more }).made.looseEnds.map(
        (e) => e.what,
      );
    expect(ends({ facets: [{ step: 'name' }] })[0]).toContain('terms, choices, yes or no');
    expect(ends({ facets: [{ step: 'gone' }] })[0]).toContain('deleted');
    expect(ends({ search: ['gone'] })[0]).toContain('not among these records');
    const alone = compileTree(treeFrom({ kind: 'filters' }), { loops: [] }, index);
    expect(alone.looseEnds.map((e) => e.what)).toEqual([expect.stringContaining('belong to no loop')]);
  });

  it('makes a question that reads back the same', () => {
    const asked = { q: ['a & b', 'c'], area: ['霧'] };
    const back: Record<string, string[]> = {};
    for (const [key, value] of new URLSearchParams(questionOf(asked))) (back[key] ??= []).push(value);
    expect(back).toEqual(asked);
    expect(questionOf({ q: [] })).toBe('');
  });
});

describe('words that are searched', () => {
  it('are in signs that a full text index keeps, never too short, and begin alike before and after', () => {
    for (const word of searchWords('Ångström’s ÉCLAIR a I 霧の小屋 ωμέγα straße Ⅷ 42 😀'))
      expect(word).toMatch(/^zz[a-z0-9_]+$/);
    expect(searchWords('straße')).toEqual(searchWords('STRASSE'));
    for (const [part, whole] of [
      ['str', 'Straße'],
      ['ωμ', 'Ωμέγα'],
      ['e', 'Éclair'],
    ] as const)
      expect(searchWords(whole)[0]?.startsWith(searchWords(part)[0] as string)).toBe(true);
    expect(searchWords('   … ')).toEqual([]);
  });

  it('find what a general search library finds for words of the Latin script', () => {
    const texts = ['the grey crag hut', 'a hut by the fell', 'crags and corries', 'Grey weather', 'by foot only'];
    const library = new MiniSearch({ fields: ['text'], tokenize: (text) => text.split(/\s+/) });
    library.addAll(texts.map((text, id) => ({ id, text })));
    for (const asked of ['grey', 'cra', 'hut by', 'the', 'g c', 'foo', 'corrie hut', 'zebra']) {
      const found = library.search(asked, { prefix: true, combineWith: 'AND' }).map((one) => one.id as number);
      const own = texts.flatMap((text, id) =>
        searchWords(asked).every((word) => searchWords(text).some((one) => one.startsWith(word))) ? [id] : [],
      );
      expect([asked, own]).toEqual([asked, found.sort()]);
    }
  });
});
