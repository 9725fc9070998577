import fc from 'fast-check';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { OWN_PARTS, RESERVED } from '../../src/lib/core/base/reserved';
import { indexModel } from '../../src/lib/core/model/model';
import type { ContentType } from '../../src/lib/core/schema/model';
import { addressOf } from '../../src/lib/core/addresses/addresses';
import { parsePattern, patternProblems, sharedAddress, takenFirstParts } from '../../src/lib/core/addresses/patterns';
import { placeOf } from '../../src/lib/core/addresses/places';
import { expandUriTemplate, parseUriTemplate } from '../../src/lib/core/addresses/uri-template';
import { model, record } from '../support/world';

const pieces = (text: string) => {
  const parsed = parseUriTemplate(text);
  if (!parsed.ok) throw new Error(parsed.problems[0]?.what);
  return parsed.value;
};
const expand = (text: string, values: Record<string, string | undefined>) => expandUriTemplate(pieces(text), values);

describe('URI Templates', () => {
  // RFC 6570, 1.2, the examples of level 1, and of section 3.2.2 those that level 1 has too.
  it.each([
    ['{var}', 'value'],
    ['{hello}', 'Hello%20World%21'],
    ['O{empty}X', 'OX'],
    ['O{undef}X', 'OX'],
    ['{half}', '50%25'],
    ['{v}', '6'],
    ['{x}{y}', '1024768'],
    ['{who}', 'fred'],
    ['{base}', 'http%3A%2F%2Fexample.com%2Fhome%2F'],
    ['{path}', '%2Ffoo%2Fbar'],
    ['map?{x}', 'map?1024'],
  ])('%s', (text, expanded) => {
    const values = {
      var: 'value',
      hello: 'Hello World!',
      empty: '',
      half: '50%',
      v: '6',
      x: '1024',
      y: '768',
      who: 'fred',
      base: 'http://example.com/home/',
      path: '/foo/bar',
    };
    expect(expand(text, values)).toBe(expanded);
  });

  it('keep the literals that may stand in an address, and escape the others (3.1)', () => {
    expect(expand('/Hütte/{x}?a=%20&b', { x: 'ö' })).toBe('/H%C3%BCtte/%C3%B6?a=%20&b');
  });

  it.each(['/a/{slug', '/{}', '/{+var}', '/{a,b}', '/{var*}', '/{var:3}', '/a b', '/a}b', '/100%'])(
    '%s is refused',
    (text) => {
      expect(parseUriTemplate(text).ok).toBe(false);
    },
  );

  it('give nothing but unreserved characters and escapes for any value', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const out = expand('{x}', { x: text });
        expect(out).toMatch(/^(?:[A-Za-z0-9\-._~]|%[0-9A-F]{2})*$/);
        expect(decodeURIComponent(out)).toBe(text.toWellFormed());
      }),
    );
  });
});

const withPattern = (address: string, more: Partial<ContentType> = {}) =>
  indexModel({
    ...model,
    authors: [{ id: 7, name: 'Ada Fell', slug: 'ada-fell', about: '', pictureId: null }],
    types: model.types.map((type) => (type.id === 'house' ? { ...type, address, ...more } : type)),
  });
const one = record(
  1,
  'house',
  {},
  { slug: 'grey-crag', published: '2026-03-09T12:00:00.000Z', terms: ['peak'], authorId: 7 },
);

describe('patterns of addresses', () => {
  it.each([
    ['/houses/{slug}', '/houses/grey-crag'],
    ['/{slug}', '/grey-crag'],
    ['/log/{year}/{month}/{day}/{slug}', '/log/2026/03/09/grey-crag'],
    ['/{area}/{slug}', '/peak/grey-crag'],
    ['/of/{author}/{slug}', '/of/ada-fell/grey-crag'],
    ['/log/{year}-{slug}', '/log/2026-grey-crag'],
    ['/log/{slug}/', '/log/grey-crag'],
    ['/Häuser/{slug}', '/H%C3%A4user/grey-crag'],
  ])('%s', (pattern, address) => {
    const index = withPattern(pattern);
    expect(addressOf(one, index)).toBe(address);
    expect(placeOf(decodeURIComponent(address), index)).toEqual({ at: 'record', typeId: 'house', slug: 'grey-crag' });
    expect(placeOf(`${decodeURIComponent(address)}/`, index)).toMatchObject({ at: 'record', slug: 'grey-crag' });
  });

  it('leave a part out for which a record has nothing', () => {
    const index = withPattern('/log/{year}/{area}/{slug}');
    const bare = { ...one, published: null, terms: [] };
    expect(addressOf(bare, index)).toBe('/log/grey-crag');
    expect(placeOf('/log/grey-crag', index)).toMatchObject({ at: 'record', slug: 'grey-crag' });
    expect(placeOf('/log/2026/grey-crag', index)).toMatchObject({ at: 'record', slug: 'grey-crag' });
  });

  it('go by the calendar of the site', () => {
    const index = indexModel({
      ...withPattern('/{year}/{slug}'),
      site: { ...model.site, timeZone: 'Pacific/Auckland' },
    });
    expect(addressOf({ ...one, published: '2025-12-31T22:30:00.000Z' }, index)).toBe('/2026/grey-crag');
  });

  it('lead every record back to its slug, in any script', () => {
    const part = fc.constantFrom('{slug}', '{slug}-x', 'a{slug}', '{year}', '{area}', 'log', '{month}-{day}', '霧');
    const patterns = fc
      .array(part, { minLength: 1, maxLength: 4 })
      .map((parts) => `/${parts.join('/')}`)
      .filter((text) => text.split('{slug}').length === 2);
    fc.assert(
      fc.property(
        patterns,
        fc.constantFrom('grey-crag', '霧の小屋', 'καταφύγιο', 'a1'),
        fc.boolean(),
        (pattern, slug, dated) => {
          const index = withPattern(pattern);
          const own = { ...one, slug, ...(dated ? {} : { published: null, terms: [] }) };
          const address = addressOf(own, index);
          const parsed = parsePattern(pattern);
          expect(parsed.ok && parsed.value.slugIn(decodeURIComponent(address))).toBe(slug);
        },
      ),
    );
  });

  it.each<[string, RegExp]>([
    ['/houses', /has no \{slug\}/],
    ['/{slug}/{slug}', /twice/],
    ['/{colour}/{slug}', /no part “\{colour\}”/],
    ['houses/{slug}', /begins with a slash/],
    ['/houses//{slug}', /Two slashes/],
    ['/studio/{slug}', /belong to something else/],
    ['/search/{slug}', /belong to something else/],
    ['/area/{slug}', /belong to something else/],
    ['/ways/{slug}', /could be house or way/],
    ['/houses/{slug}?x', /question/],
    ['/houses/{slug', /not closed/],
    [`/${'x'.repeat(200)}/{slug}`, /200 characters/],
  ])('%s is refused', (address, words) => {
    const type = withPattern(address).type('house')!;
    const [problem] = patternProblems(type, withPattern(address));
    expect([problem?.at, problem?.what]).toEqual(['address', expect.stringMatching(words)]);
  });

  it('that share an address are told with one, and others are left alone', () => {
    const pattern = (text: string) => {
      const parsed = parsePattern(text);
      if (!parsed.ok) throw new Error(text);
      return parsed.value;
    };
    const shared = (a: string, b: string) => sharedAddress(pattern(a), pattern(b));
    expect(shared('/{slug}', '/{slug}')).toBeDefined();
    expect(shared('/log/{year}/{slug}', '/log/{area}/{slug}')).toBeDefined();
    expect(shared('/log/{year}/{slug}', '/log/{slug}')).toBeDefined();
    expect(shared('/log/{slug}', '/{area}/{slug}')).toBeDefined();
    expect(shared('/a/{slug}', '/b/{slug}')).toBeUndefined();
    expect(shared('/{slug}', '/a/{slug}')).toBeUndefined();
    expect(shared('/a/x/{slug}', '/a/{year}/{slug}')).toBeUndefined();
    // What the example is: both patterns read it.
    for (const [a, b] of [
      ['/log/{year}/{slug}', '/log/{area}/{slug}'],
      ['/log/{slug}', '/{area}/{slug}'],
    ] as const) {
      const address = shared(a, b)!;
      expect([pattern(a).slugIn(address), pattern(b).slugIn(address)]).not.toContain(undefined);
    }
  });

  it('that begin with the slug leave archives and the application their addresses', () => {
    const index = withPattern('/{slug}');
    expect(placeOf('/ways', index)).toEqual({ at: 'moved', to: '/ways/' });
    expect(placeOf('/search', index)).toEqual({ at: 'moved', to: '/search/' });
    expect([...takenFirstParts(index)]).toEqual(
      expect.arrayContaining(['ways', 'houses', 'area', 'studio', 'feed.atom']),
    );
  });
});

describe('former addresses', () => {
  const index = withPattern('/lodges/{slug}', { base: 'lodges' });
  const former = [
    { typeId: 'house', base: 'houses', address: '/log/{year}/{slug}' },
    { typeId: 'house', base: 'huts', address: '' },
  ];
  it('are looked for after those of now', () => {
    expect(placeOf('/log/2026/grey-crag', index, '', former)).toEqual({
      at: 'record',
      typeId: 'house',
      slug: 'grey-crag',
      former: true,
    });
    expect(placeOf('/huts/grey-crag', index, '', former)).toEqual({
      at: 'record',
      typeId: 'house',
      slug: 'grey-crag',
      former: true,
    });
    expect(placeOf('/huts/', index, '', former)).toEqual({ at: 'moved', to: '/lodges/' });
    expect(placeOf('/houses/page/3/', index, '', former)).toEqual({ at: 'moved', to: '/lodges/page/3/' });
    expect(placeOf('/houses/2026/', index, '', former)).toEqual({ at: 'moved', to: '/lodges/2026/' });
    expect(placeOf('/ways/x', index, '', [{ typeId: 'house', base: 'ways', address: '' }])).toMatchObject({
      typeId: 'way',
    });
    expect(placeOf('/elsewhere/x', index, '', former)).toEqual({ at: 'nowhere' });
  });
});

it('first parts that the application answers belong to no content type, and to no page', () => {
  const routes = readdirSync(join(import.meta.dirname, '..', '..', 'src', 'routes'), { withFileTypes: true })
    .filter((one) => one.isDirectory() && /^[\w-]+$/.test(one.name))
    .map(({ name }) => name);
  expect(routes.length).toBeGreaterThan(5);
  expect(routes.filter((name) => !OWN_PARTS.has(name) || !RESERVED.has(name))).toEqual([]);
});
