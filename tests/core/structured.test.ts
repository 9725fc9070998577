import type { LodgingBusiness, WithContext } from 'schema-dts';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { indexModel } from '../../src/lib/core/model/model';
import {
  scriptJson,
  structuredOf,
  structuredProblems,
  suggestedProperties,
} from '../../src/lib/core/render/structured';
import { findTypes, isType, lineOf, propertiesOf } from '../../src/lib/core/base/vocabulary';
import { envOf, index, model, own, record } from '../support/world';

const origin = 'https://a.example';
const structured = {
  is: 'LodgingBusiness',
  properties: [
    { property: 'description', path: own('story') },
    { property: 'numberOfRooms', path: own('height') },
    { property: 'image', path: own('photo') },
    { property: 'geo', path: own('spot') },
    { property: 'keywords', path: own('@terms:area') },
    { property: 'containsPlace', path: own('ways') },
    { property: 'petsAllowed', path: own('open') },
  ],
};
const told = indexModel({
  ...model,
  types: model.types.map((type) => (type.id === 'house' ? { ...type, structured } : type)),
});
const house = record(
  1,
  'house',
  {
    story: 'Words </script> & more',
    height: 3,
    open: false,
    photo: 5,
    ways: [9],
    spot: { lat: 57.1, lon: -4.9, label: 'Here' },
  },
  { terms: ['peak', 'south'], slug: 'home', title: 'Home' },
);
const media = [
  {
    id: 5,
    name: 'a.webp',
    mime: 'image/webp',
    width: 1600,
    height: 900,
    alt: 'A house',
    size: 1,
    focalX: 0.5,
    focalY: 0.5,
  },
];
const way = record(9, 'way', {}, { title: 'The way', slug: 'the-way' });

describe('what records are to programs', () => {
  it('is JSON-LD with the values of the properties that were chosen', () => {
    const out = structuredOf(house, envOf([house, way], media, { model: told }), origin) as unknown as WithContext<
      Exclude<LodgingBusiness, string>
    >;
    expect(out).toEqual({
      '@context': 'https://schema.org',
      '@type': 'LodgingBusiness',
      name: 'Home',
      url: 'https://a.example/houses/home',
      description: 'Words </script> & more',
      numberOfRooms: 3,
      image: {
        '@type': 'ImageObject',
        contentUrl: 'https://a.example/media/5/1280.webp',
        url: 'https://a.example/media/5/1280.webp',
        width: 1280,
        height: 720,
        caption: 'A house',
      },
      geo: { '@type': 'GeoCoordinates', latitude: 57.1, longitude: -4.9 },
      keywords: ['Peak', 'South'],
      containsPlace: { '@type': 'Thing', name: 'The way', url: 'https://a.example/ways/the-way' },
      petsAllowed: false,
    });
  });

  it('leaves out what is empty, and says nothing of types that are not told', () => {
    const bare = record(2, 'house', {}, { title: 'Bare', slug: 'bare' });
    const out = structuredOf(bare, envOf([bare], [], { model: told }), origin);
    expect(Object.keys(out as object)).toEqual(['@context', '@type', 'name', 'url']);
    expect(structuredOf(way, envOf([way], [], { model: told }), origin)).toBeUndefined();
  });

  it('cannot end the element it stands in', () => {
    const text = scriptJson({ a: '</script><script>alert(1)</script>' });
    expect(text).not.toContain('<');
    expect(JSON.parse(text)).toEqual({ a: '</script><script>alert(1)</script>' });
  });

  it('is refused where the vocabulary has no such type or property, or the path leads nowhere', () => {
    const wrong = (more: Partial<typeof structured>) =>
      structuredProblems({ ...structured, ...more }, 'house', index).map(({ at, what }) => [at, what]);
    expect(wrong({})).toEqual([]);
    expect(wrong({ is: 'Hovel' })).toEqual([['structured.is', 'There is no type “Hovel” in the vocabulary.']]);
    expect(wrong({ properties: [{ property: 'bunks', path: own('height') }] })[0]?.[1]).toBe(
      'LodgingBusiness has no property “bunks”.',
    );
    expect(wrong({ properties: [{ property: 'name', path: own('gone') }] })[0]?.[0]).toBe('structured.properties.0');
    expect(suggestedProperties('house', 'LodgingBusiness', index).map(({ property }) => property)).toEqual([
      'name',
      'description',
      'image',
      'geo',
    ]);
  });
});

describe('the vocabulary', () => {
  // schema-dts ships the vocabulary of schema.org as types (Apache-2.0); read here in another way than the script that made ours.
  const source = readFileSync('node_modules/schema-dts/dist/schema.d.ts', 'utf8');
  it('has the types and properties of the package', () => {
    for (const [name, property] of [
      ['Hotel', 'checkinTime'],
      ['Person', 'jobTitle'],
      ['Event', 'startDate'],
      ['BlogPosting', 'headline'],
      ['WebPage', 'breadcrumb'],
      ['Place', 'geo'],
    ] as const) {
      expect(source).toContain(`export type ${name} =`);
      expect(propertiesOf(name).map((one) => one.name)).toContain(property);
    }
    const leaves = [...source.matchAll(/"@type": "([A-Z]\w+)"/g)].map(([, name = '']) => name);
    const lacking = leaves.filter((name) => !isType(name));
    // What the package calls plain values are no things.
    expect(
      lacking.filter(
        (name) =>
          !/^(Text|Number|Boolean|Date|DateTime|Time|URL|Integer|Float|XPathType|CssSelectorType|PronounceableText)$/.test(
            name,
          ),
      ),
    ).toEqual([]);
    expect(leaves.length).toBeGreaterThan(700);
  });

  it('knows what stands above what, and finds types by words', () => {
    expect(lineOf('Hotel')).toEqual(
      expect.arrayContaining(['Hotel', 'LodgingBusiness', 'LocalBusiness', 'Place', 'Organization', 'Thing']),
    );
    expect(lineOf('Nothing')).toEqual([]);
    expect(findTypes('hotel')[0]?.name).toBe('Hotel');
    expect(findTypes('blog posting')[0]?.name).toBe('BlogPosting');
    expect(findTypes('zzz')).toEqual([]);
  });
});
