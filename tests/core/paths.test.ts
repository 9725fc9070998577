import { describe, expect, it } from 'vitest';
import { compilePath } from '../../src/lib/core/paths/compile';
import { beyond, reachable } from '../../src/lib/core/paths/reach';
import { indexModel } from '../../src/lib/core/model/model';
import { envOf, field, houseScopes, index, model, own, picture, record } from '../support/world';

const house = record(
  1,
  'house',
  { height: 0, keeper: [2], ways: [4, 3], photo: 9, name: ' ' },
  { terms: ['peak', 'south'] },
);
const records = [
  house,
  record(2, 'person', { face: 8, age: 40, keeps: [1] }, { title: 'Ada' }),
  record(3, 'way', { km: 2.5 }),
  record(4, 'way', { km: 7 }),
  record(5, 'way', {}, { status: 'draft' }),
];

function read(...steps: string[]) {
  const made = compilePath(own(...steps), houseScopes, index);
  if (!made.ok) throw new Error(made.problems[0]?.what);
  return made.value.read(envOf(records, [picture(8)]));
}

function problem(path: Parameters<typeof compilePath>[0]) {
  const made = compilePath(path, houseScopes, index);
  return made.ok ? undefined : made.problems[0]?.what;
}

describe('what can be reached', () => {
  it('tells a field apart from what every record has, where both have one name', () => {
    const [house, ...others] = model.types;
    const twice = indexModel({
      ...model,
      types: [{ ...house!, fields: [...house!.fields, field('street', 'text', {}, 'Address')] }, ...others],
    });
    const labels = (of: typeof index) =>
      reachable(houseScopes, of)[0]!
        .entries.map(({ label }) => label)
        .filter((label) => /^Address( \(|$)/.test(label));
    expect(labels(index)).toEqual(['Address']);
    expect(labels(twice)).toEqual(['Address', 'Address (of this page)']);
  });
});

describe('paths', () => {
  it('read fields, built-in values and what lies behind relations', () => {
    expect(read('height')).toBe(0);
    expect(read('@title')).toBe('house 1');
    expect(read('keeper')).toBe(2);
    expect(read('keeper', '@title')).toBe('Ada');
    expect(read('keeper', 'face')).toBe(8);
    expect(read('keeper', 'keeps', '@title')).toEqual(['house 1']);
    expect(read('ways', 'km')).toEqual([7, 2.5]);
    expect(read('@terms:area')).toEqual(['peak', 'south']);
    expect(read('@address')).toEqual({ url: '/houses/house-1', label: 'house 1' });
  });

  it('tell how long the texts of a record are: words, and minutes at 200 words in each (common practice)', () => {
    const long = (words: number) => {
      const one = record(1, 'house', words ? { story: 'Word. '.repeat(words) } : {});
      return ['@words', '@minutes'].map((step) => {
        const made = compilePath(own(step), houseScopes, index);
        return made.ok && made.value.read(envOf([one]));
      });
    };
    expect([0, 1, 200, 201, 401].map(long)).toEqual([
      [undefined, undefined],
      [1, 1],
      [200, 1],
      [201, 2],
      [401, 3],
    ]);
    const slow = indexModel({ ...model, site: { ...model.site, readingPace: 100 } });
    const made = compilePath(own('@minutes'), houseScopes, slow);
    const one = record(1, 'house', { story: 'Word. '.repeat(201) });
    expect(made.ok && made.value.read({ ...envOf([one]), model: slow, record: one })).toBe(3);
  });

  it('know kind and number before any record is read', () => {
    const type = (...steps: string[]) => {
      const made = compilePath(own(...steps), houseScopes, index);
      return made.ok
        ? [made.value.type.kind.name, made.value.type.many, made.value.type.label]
        : made.problems[0]?.what;
    };
    expect(type('height')).toEqual(['number', false, 'Height']);
    expect(type('keeper')).toEqual(['relation', false, 'Keeper']);
    expect(type('keeper', 'age')).toEqual(['number', false, 'Keeper → Age']);
    expect(type('ways', 'km')).toEqual(['number', true, 'Ways → Length']);
    expect(type('keeper', 'keeps', 'height')).toEqual(['number', true, 'Keeper → Keeps → Height']);
    expect(type('@terms:area')).toEqual(['terms', true, 'Area']);
  });

  it('resolve to empty where something is missing, never to an error', () => {
    expect(read('photo')).toBeUndefined();
    expect(read('name')).toBeUndefined();
    expect(read('built')).toBeUndefined();
    house.values.ways = [4, 99, 5];
    expect(read('ways')).toEqual([4]);
    expect(read('ways', 'km')).toEqual([7]);
    house.values.ways = [4, 3];
  });

  it('say what is wrong with them', () => {
    expect(problem(own('gone'))).toBe('The field this was bound to has been deleted.');
    expect(problem(own('km'))).toBe('“Length” belongs to Way, which is not what stands here.');
    expect(problem(own('height', 'age'))).toBe('“Height” does not lead on to other values.');
    expect(problem({ from: 'loop:x', steps: ['height'] })).toBe('Nothing named “loop:x” can be reached from here.');
    expect(problem({ from: 'record', steps: [] })).toBe('The path stops at this record itself.');
    expect(problem({ from: 'site', steps: ['@secret'] })).toBeDefined();
  });

  it('offer what can be reached, by scope', () => {
    const scopes = { ...houseScopes, loops: [{ id: 'l', name: 'Way', typeIds: ['way'], depth: 0 }] };
    const groups = reachable(scopes, index);
    expect(groups.map((group) => group.name)).toEqual(['Each Way', 'This House', 'The site']);
    expect(groups[0]?.entries.map((entry) => entry.label)).toContain('Position');
    const keeper = groups[1]?.entries.find((entry) => entry.label === 'Keeper');
    expect(beyond(keeper!, scopes, index).map((entry) => entry.type.label)).toContain('Keeper → Age');
    // Taxonomies that a type is not filed under are not offered.
    expect(beyond(keeper!, scopes, index).map((entry) => entry.label)).not.toContain('Area');
  });
});
