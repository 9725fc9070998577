import { describe, expect, it } from 'vitest';
import { addressOf, archiveAddress, placeOf } from '../../src/lib/core/serving/addresses';
import { contest } from '../../src/lib/core/serving/contest';
import { blankTree } from '../../src/lib/core/templates/build';
import type { Template } from '../../src/lib/core/templates/template';
import { index, record } from '../support/world';

describe('addresses', () => {
  it.each<[string, object]>([
    ['/', { at: 'front' }],
    ['/huts/', { at: 'archive', base: 'huts', page: 1 }],
    ['/huts', { at: 'moved', to: '/huts/' }],
    ['/huts/page/2/', { at: 'archive', base: 'huts', page: 2 }],
    ['/huts/page/2', { at: 'moved', to: '/huts/page/2/' }],
    ['/huts/page/1/', { at: 'moved', to: '/huts/' }],
    ['/huts/page/0/', { at: 'nowhere' }],
    ['/huts/page/02/', { at: 'nowhere' }],
    ['/huts/page/x/', { at: 'nowhere' }],
    ['/huts/grey-crag', { at: 'record', base: 'huts', slug: 'grey-crag' }],
    ['/huts/grey-crag/', { at: 'moved', to: '/huts/grey-crag' }],
    ['/huts/a/b', { at: 'nowhere' }],
    ['//huts//x', { at: 'moved', to: '/huts/x' }],
  ])('%s', (path, place) => expect(placeOf(path)).toEqual(place));

  it('are encoded for every script and read back the same', () => {
    const address = addressOf(record(1, 'house', {}, { slug: '霧の小屋' }), index);
    expect(address).toBe('/houses/%E9%9C%A7%E3%81%AE%E5%B0%8F%E5%B1%8B');
    expect(placeOf(decodeURIComponent(address))).toEqual({ at: 'record', base: 'houses', slug: '霧の小屋' });
    expect(archiveAddress('huts')).toBe('/huts/');
    expect(archiveAddress('huts', 3)).toBe('/huts/page/3/');
  });
});

describe('contests', () => {
  const template = (id: string, purpose: Template['purpose'], typeId: string, order: number): Template => ({
    id,
    name: id,
    purpose,
    serves: [{ on: 'type', typeId }],
    order,
    version: 1,
    tree: blankTree(),
  });

  it('are decided by type and then by the designer’s order, and say so', () => {
    const all = [
      template('late', 'record', 'house', 5),
      template('early', 'record', 'house', 1),
      template('other', 'record', 'way', 0),
      template('list', 'archive', 'house', 0),
    ];
    const { candidates, tied } = contest(all, 'record', 'house');
    expect(candidates.map((c) => c.template.id)).toEqual(['early', 'late']);
    expect(candidates[1]?.reason).toContain('later in the order');
    expect(tied).toBe(true);
    expect(contest(all, 'archive', 'way')).toEqual({ candidates: [], tied: false });
  });
});
