import { afterAll, beforeAll, expect, it } from 'vitest';
import { placeOf } from '../../src/lib/core/addresses/places';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { answer } from '../../src/lib/server/site/respond';
import { feedAt, sitemapPart } from '../../src/lib/server/site/outlets';
import { sendIfNew } from '../../src/lib/server/site/send';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { saveSite } from '../support/services';

let drop: () => Promise<void>;
const ORIGIN = 'https://a.example';

beforeAll(async () => {
  drop = await freshDatabase();
  await saveSite({ name: 'A', tagline: '', locale: 'en-GB', timeZone: 'UTC' });
  await saveModel();
  for (let i = 1; i <= 24; i++)
    await createRecord('house', {
      title: `House ${i}`,
      status: i === 24 ? 'draft' : 'published',
      published: `2026-01-${String(i).padStart(2, '0')}T09:00:00Z`,
      terms: i === 3 ? ['peak'] : [],
      values: { story: `Story of ${i}.` },
    });
});
afterAll(() => drop());

it('feeds have the newest of an archive, twenty, and no drafts; other addresses have none', async () => {
  const found = await feedAt('/houses/feed.atom', ORIGIN);
  expect(found?.form).toBe('feed.atom');
  // The front page lists everything, and so does its feed.
  expect((await feedAt('/feed.atom', ORIGIN))?.feed.items).toHaveLength(20);
  expect(found?.feed.items.map(({ title }) => title)).toEqual(Array.from({ length: 20 }, (_, i) => `House ${23 - i}`));
  expect(found?.feed.items[0]).toMatchObject({ url: `${ORIGIN}/houses/house-23`, summary: 'Story of 23.' });
  const term = (await readModel()).term('peak')!;
  const taxonomy = (await readModel()).taxonomy(term.taxonomyId)!;
  const ofTerm = await feedAt(`/${taxonomy.key}/${term.slug}/feed.json`, ORIGIN);
  expect(ofTerm?.feed.items.map(({ title }) => title)).toEqual(['House 3']);
  for (const path of ['/houses/house-1/feed.atom', '/houses/page/2/feed.atom', '/search/feed.atom', '/houses/feed.rss'])
    expect(await feedAt(path, ORIGIN)).toBeUndefined();
});

it('archives name their feeds, and every page what stands for it', async () => {
  const { html } = await answer('/houses/', { base: '', which: 'draft', origin: ORIGIN });
  expect(html).toContain(
    '<link rel="alternate" type="application/atom+xml" title="Houses, as Atom" href="/houses/feed.atom">',
  );
  const page = (await answer('/houses/house-3', { base: '', which: 'draft', origin: ORIGIN })).html;
  for (const [name, content] of [
    ['title', 'House 3'],
    ['type', 'article'],
    ['url', `${ORIGIN}/houses/house-3`],
    ['description', 'Story of 3.'],
    ['site_name', 'A'],
    ['locale', 'en_GB'],
  ])
    expect(page).toContain(`<meta property="og:${name}" content="${content}">`);
  expect(page).toContain('<meta name="description" content="Story of 3.">');
});

it('the sitemap has every page there is, and no other: each of its addresses answers', async () => {
  const map = (await sitemapPart(1, ORIGIN))!;
  expect(map.parts).toBe(1);
  const paths = map.entries.map(({ url }) => decodeURI(url.slice(ORIGIN.length)));
  expect(paths.filter((path) => path.startsWith('/houses/house-'))).toHaveLength(23);
  expect(paths).toContain('/houses/');
  expect(paths).not.toContain('/ways/');
  expect(new Set(paths).size).toBe(paths.length);
  const model = await readModel();
  for (const path of paths) {
    expect(placeOf(path, model).at, path).not.toBe('moved');
    expect((await answer(path, { base: '', which: 'draft', origin: ORIGIN })).status, path).toBe(200);
  }
  expect(await sitemapPart(2, ORIGIN)).toBeUndefined();
});

it('what has not changed is not sent again', async () => {
  const ask = (headers: Record<string, string> = {}) =>
    sendIfNew(new Request('https://a.example/', { headers }), 'A page', { 'content-type': 'text/plain' });
  const first = ask();
  const etag = first.headers.get('etag')!;
  expect(etag).toMatch(/^"[^"]+"$/);
  const again = ask({ 'if-none-match': `"other", W/${etag}` });
  expect([again.status, await again.text(), again.headers.get('etag')]).toEqual([304, '', etag]);
  expect(ask({ 'if-none-match': '"other"' }).status).toBe(200);
});
