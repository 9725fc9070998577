import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { compileLoop } from '../../src/lib/core/loops/loop';
import { LoopSettingsSchema } from '../../src/lib/core/schema/loop';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { makeEnv } from '../../src/lib/core/paths/env';
import { envOf, houseScopes, index, record } from '../support/world';

function list(settings: object, records: ContentRecord[], page = 1, locale = index.site.locale) {
  const loop = compileLoop(
    'l',
    'House',
    LoopSettingsSchema.parse({ source: { from: 'archive' }, ...settings }),
    { archive: { on: 'type' as const, typeIds: ['house'] }, loops: [] },
    index,
  );
  const pool = memoryPool(records, [], false);
  const made = pool.list(
    loop,
    makeEnv({
      model: { ...index, site: { ...index.site, locale } },
      pool,
      today: '2026-06-15',
      archive: { of: 'type', typeId: 'house', page },
    }),
  );
  return { ids: made.items.map((r) => r.id), ...made, problems: loop.problems };
}
const key = (step: string, down = false) => ({ steps: [step], down });

describe('loops in memory', () => {
  const houses = [
    record(1, 'house', { height: 5, name: 'b' }),
    record(2, 'house', { name: 'Ä' }),
    record(3, 'house', { height: 0 }),
    record(4, 'house', { height: 5, name: 'a' }),
    record(5, 'house', { height: 9 }, { status: 'draft' }),
    record(6, 'way'),
  ];

  it('go over what is published of their type, by id without an order', () =>
    expect(list({}, houses).ids).toEqual([1, 2, 3, 4]));

  it('put empties last both ways and settle ties by id', () => {
    expect(list({ order: [key('height')] }, houses).ids).toEqual([3, 1, 4, 2]);
    expect(list({ order: [key('height', true)] }, houses).ids).toEqual([1, 4, 3, 2]);
    expect(list({ order: [key('height', true), key('name')] }, houses).ids).toEqual([4, 1, 3, 2]);
  });

  it('order text by the Unicode Collation Algorithm', () => {
    const words = ['zebra', 'Äpfel', 'apfel', 'Apfel', 'éclair', 'eclair', 'ωμέγα', 'άλφα', 'ñandu', 'nandu', '霧'];
    const records = words.map((name, i) => record(i + 1, 'house', { name }));
    expect(list({ order: [key('name')] }, records).items.map((r) => (r as ContentRecord).values.name)).toEqual(
      [...words].sort(new Intl.Collator('en').compare),
    );
  });

  it('order numbers within text by their value, and text by the language of the site', () => {
    const names = ['Hut 10', 'Hut 2', 'Ötz 1', 'Zug 1', 'Hut 1'];
    const records = names.map((name, i) => record(i + 1, 'house', { name }));
    const inOrder = (locale: string) =>
      list({ order: [key('name')] }, records, 1, locale).items.map((r) => (r as ContentRecord).values.name);
    // Swedish has å, ä, ö after z (Svenska Akademiens ordlista).
    expect(inOrder('sv-SE')).toEqual(['Hut 1', 'Hut 2', 'Hut 10', 'Zug 1', 'Ötz 1']);
    expect(inOrder('de-DE')).toEqual(['Hut 1', 'Hut 2', 'Hut 10', 'Ötz 1', 'Zug 1']);
  });

  it('order choices as their options stand', () => {
    const records = ['poor', 'good', 'fair'].map((state, i) => record(i + 1, 'house', { state }));
    expect(list({ order: [key('state')] }, records).ids).toEqual([2, 3, 1]);
  });

  it('skip, limit and page', () => {
    expect(list({ skip: 1, limit: 2 }, houses)).toMatchObject({ ids: [2, 3], total: 2, pages: 1 });
    expect(list({ perPage: 3 }, houses)).toMatchObject({ ids: [1, 2, 3], total: 4, pages: 2 });
    expect(list({ perPage: 3 }, houses, 2)).toMatchObject({ ids: [4], page: 2 });
    expect(list({ perPage: 3 }, houses, 3)).toMatchObject({ ids: [], pages: 2 });
    expect(list({ perPage: 3, skip: 10 }, houses)).toMatchObject({ ids: [], total: 0, pages: 1 });
  });

  it('neither repeat nor drop a record over their pages', () => {
    const heights = fc.array(fc.option(fc.integer({ min: 0, max: 3 }), { nil: undefined }), { maxLength: 30 });
    fc.assert(
      fc.property(heights, fc.integer({ min: 1, max: 7 }), fc.boolean(), fc.nat(4), (values, perPage, down, skip) => {
        const records = values.map((height, i) => record(i + 1, 'house', height === undefined ? {} : { height }));
        const settings = { order: [key('height', down)], skip };
        const whole = list(settings, records).ids;
        const { pages } = list({ ...settings, perPage }, records);
        const paged = Array.from(
          { length: pages },
          (_, i) => list({ ...settings, perPage }, records, i + 1).ids,
        ).flat();
        expect(paged).toEqual(whole);
      }),
    );
  });

  it('filter with the rule language, also against the page they stand on', () => {
    const way = { from: 'record', steps: ['height'] };
    const settings = LoopSettingsSchema.parse({
      source: { from: 'query', typeIds: ['house'] },
      filter: { group: 'all', rules: [{ test: 'order.ge', path: { from: 'loop:l', steps: ['height'] }, other: way }] },
    });
    const loop = compileLoop('l', 'House', settings, houseScopes, index);
    const env = envOf(houses);
    expect(env.pool.list(loop, env).items.map((r) => r.id)).toEqual([1, 4]);
    expect(env.turns).toEqual([undefined]);
  });

  it('say what cannot be gone over or ordered by', () => {
    expect(list({ order: [key('photo')] }, houses).problems[0]?.what).toBe('Photo has no order.');
    expect(
      compileLoop('l', 'L', { source: { from: 'query', typeIds: ['gone'] }, order: [], skip: 0 }, houseScopes, index)
        .problems[0]?.what,
    ).toContain('deleted');
    expect(
      compileLoop('l', 'L', { source: { from: 'archive' }, order: [], skip: 0 }, houseScopes, index).problems[0]?.what,
    ).toContain('no archive');
    expect(
      compileLoop(
        'l',
        'L',
        { source: { from: 'relation', path: { from: 'record', steps: ['height'] } }, order: [], skip: 0 },
        houseScopes,
        index,
      ).problems[0]?.what,
    ).toContain('holds no records');
    expect(LoopSettingsSchema.safeParse({ source: { from: 'query', typeIds: [] } }).success).toBe(false);
    expect(LoopSettingsSchema.safeParse({ source: { from: 'archive' }, limit: 0 }).success).toBe(false);
  });
});
