import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { startOfDay } from '../../src/lib/core/base/write';
import { indexModel } from '../../src/lib/core/model/model';
import { addressOf } from '../../src/lib/core/addresses/addresses';
import { placeOf } from '../../src/lib/core/addresses/places';
import {
  addressOfArchive,
  descriptionOfArchive,
  inArchive,
  monthsOf,
  titleOfArchive,
  type ArchiveOf,
} from '../../src/lib/core/addresses/archives';
import { index, model, record } from '../support/world';

const withAuthor = indexModel({
  ...model,
  authors: [{ id: 7, name: 'Ada Fell', slug: 'ada-fell', about: '<p>Writes.</p>', pictureId: null }],
});
const houses = { of: 'type', typeId: 'house' };

describe('addresses', () => {
  it.each<[string, object]>([
    ['/', { at: 'archive', of: { of: 'front' }, page: 1 }],
    ['/page/2/', { at: 'archive', of: { of: 'front' }, page: 2 }],
    ['/page/1/', { at: 'moved', to: '/' }],
    ['/houses/', { at: 'archive', of: houses, page: 1 }],
    ['/houses', { at: 'moved', to: '/houses/' }],
    ['/houses/page/2/', { at: 'archive', of: houses, page: 2 }],
    ['/houses/page/2', { at: 'moved', to: '/houses/page/2/' }],
    ['/houses/page/1/', { at: 'moved', to: '/houses/' }],
    ['/houses/page/0/', { at: 'nowhere' }],
    ['/houses/page/-1/', { at: 'nowhere' }],
    ['/houses/page/02/', { at: 'nowhere' }],
    ['/houses/page/1e9/', { at: 'nowhere' }],
    ['/houses/page/x/', { at: 'nowhere' }],
    ['/houses/grey-crag', { at: 'record', typeId: 'house', slug: 'grey-crag' }],
    ['/houses/grey-crag/', { at: 'record', typeId: 'house', slug: 'grey-crag' }],
    ['/houses/a/b', { at: 'nowhere' }],
    ['/nowhere/', { at: 'nowhere' }],
    ['//houses//x', { at: 'moved', to: '/houses/x' }],
    ['/area/peak/', { at: 'archive', of: { of: 'term', termId: 'peak' }, page: 1 }],
    ['/area/peak', { at: 'moved', to: '/area/peak/' }],
    ['/area/peak/page/3/', { at: 'archive', of: { of: 'term', termId: 'peak' }, page: 3 }],
    ['/area/no-such/', { at: 'nowhere' }],
    ['/area/', { at: 'nowhere' }],
    ['/by/ada-fell/', { at: 'archive', of: { of: 'author', authorId: 7 }, page: 1 }],
    ['/by/nobody/', { at: 'nowhere' }],
    ['/houses/2026/', { at: 'archive', of: { of: 'date', typeId: 'house', year: 2026 }, page: 1 }],
    ['/houses/2026/03/', { at: 'archive', of: { of: 'date', typeId: 'house', year: 2026, month: 3 }, page: 1 }],
    ['/houses/2026/03', { at: 'moved', to: '/houses/2026/03/' }],
    ['/houses/2026/3/', { at: 'nowhere' }],
    ['/houses/2026/13/', { at: 'nowhere' }],
    // A record may be called like a year; its address has no slash.
    ['/houses/2026', { at: 'record', typeId: 'house', slug: '2026' }],
    ['/search/', { at: 'archive', of: { of: 'search', words: 'grey' }, page: 1 }],
    ['/search/page/2/', { at: 'archive', of: { of: 'search', words: 'grey' }, page: 2 }],
  ])('%s', (path, place) => expect(placeOf(path, withAuthor, 'grey')).toEqual(place));

  it('are encoded for every script and read back the same', () => {
    const address = addressOf(record(1, 'house', {}, { slug: '霧の小屋' }), index);
    expect(address).toBe('/houses/%E9%9C%A7%E3%81%AE%E5%B0%8F%E5%B1%8B');
    expect(placeOf(decodeURIComponent(address), index)).toEqual({ at: 'record', typeId: 'house', slug: '霧の小屋' });
  });

  it('lead, however they are written, to one settled address in a step or two, or nowhere', () => {
    const piece = fc.constantFrom(
      ...[
        'houses',
        'ways',
        'area',
        'peak',
        'by',
        'ada-fell',
        'search',
        'page',
        '0',
        '1',
        '2',
        '2026',
        '03',
        '13',
        '',
        '.',
        '..',
        '霧',
        '%',
        'x y',
        '?',
        '#',
      ],
    );
    const paths = fc
      .tuple(fc.array(piece, { maxLength: 6 }), fc.boolean())
      .map(([parts, slash]) => `/${parts.join('/')}${slash ? '/' : ''}`);
    fc.assert(
      fc.property(paths, (path) => {
        let place = placeOf(path, withAuthor);
        for (let steps = 0; place.at === 'moved'; steps++) {
          expect([path, steps]).toEqual([path, Math.min(steps, 2)]);
          expect(place.to.startsWith('/') && !place.to.startsWith('//')).toBe(true);
          place = placeOf(decodeURIComponent(place.to), withAuthor);
        }
        if (place.at === 'archive') expect(place.page).toBeGreaterThanOrEqual(1);
      }),
      { numRuns: 3000 },
    );
  });

  it('of every archive lead back to it', () => {
    const all: ArchiveOf[] = [
      { of: 'type', typeId: 'way' },
      { of: 'term', termId: 'hill' },
      { of: 'author', authorId: 7 },
      { of: 'date', typeId: 'house', year: 987 },
      { of: 'date', typeId: 'house', year: 2026, month: 12 },
      { of: 'search', words: '' },
      { of: 'front' },
    ];
    for (const of of all)
      for (const page of [1, 4])
        expect(placeOf(addressOfArchive(of, withAuthor, page), withAuthor)).toEqual({ at: 'archive', of, page });
    expect(addressOfArchive({ of: 'type', typeId: 'gone' }, index, 2)).toBe('');
  });
});

describe('archives', () => {
  const at = (published: string | null, more = {}) => record(1, 'house', {}, { published, ...more });

  it('say what they list', () => {
    const title = (of: ArchiveOf) => titleOfArchive(of, withAuthor);
    expect(title({ of: 'date', typeId: 'house', year: 2026, month: 3 })).toBe('Houses, March 2026');
    expect(title({ of: 'search', words: ' snow ' })).toBe('Search: snow');
    expect(title({ of: 'author', authorId: 7 })).toBe('Ada Fell');
    expect(descriptionOfArchive({ of: 'author', authorId: 7 }, withAuthor)).toBe('Writes.');
  });

  it('of a term list what is filed below it too', () => {
    const of: ArchiveOf = { of: 'term', termId: 'north' };
    expect(inArchive(of, at(null, { terms: ['peak'] }), index)).toBe(true);
    expect(inArchive(of, at(null, { terms: ['south'] }), index)).toBe(false);
    expect(inArchive(of, at(null), index)).toBe(false);
  });

  it('by date go by the calendar of the site', () => {
    // Half past ten in the evening of 31 December by UTC is the next year in Auckland (+13:00 in summer, IANA tzdata).
    const late = at('2025-12-31T22:30:00.000Z');
    const auckland = indexModel({ ...model, site: { ...model.site, timeZone: 'Pacific/Auckland' } });
    const year: ArchiveOf = { of: 'date', typeId: 'house', year: 2026 };
    expect(inArchive(year, late, index)).toBe(false);
    expect(inArchive(year, late, auckland)).toBe(true);
    expect(inArchive({ ...year, month: 1 }, late, auckland)).toBe(true);
    expect(inArchive({ ...year, month: 2 }, late, auckland)).toBe(false);
    expect(monthsOf([late, at('2026-06-01T00:00:00.000Z'), at(null)], auckland)).toEqual([
      { year: 2026, month: 6 },
      { year: 2026, month: 1 },
    ]);
  });

  it('of days begin when the day does, also where the clocks go forward at midnight', () => {
    expect(startOfDay('2026-01-01', 'Pacific/Auckland').toISOString()).toBe('2025-12-31T11:00:00.000Z');
    // In Santiago the clocks went from 24:00 to 01:00 on 8 September 2024, to -03:00 (IANA tzdata).
    expect(startOfDay('2024-09-08', 'America/Santiago').toISOString()).toBe('2024-09-08T04:00:00.000Z');
  });
});
