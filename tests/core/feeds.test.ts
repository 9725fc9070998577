import { XMLParser, XMLValidator } from 'fast-xml-parser';
import fc from 'fast-check';
import Parser from 'rss-parser';
import { describe, expect, it } from 'vitest';
import { atomFeed, jsonFeed, tagOf, type Feed, type FeedItem } from '../../src/lib/core/serving/feeds';
import { robots, sitemap, sitemapIndex } from '../../src/lib/core/serving/sitemap';

const item = (more: Partial<FeedItem> = {}): FeedItem => ({
  id: 'tag:a.example,2026-01-01:record:1',
  title: 'Rope & <b>axe</b>',
  url: 'https://a.example/huts/one?x=1&y=2',
  summary: 'Bring “both”',
  author: 'Ada Writer',
  terms: ['North', 'A & B'],
  picture: { url: 'https://a.example/media/1/1280.webp', type: 'image/webp', alt: 'A "rope"' },
  published: '2026-03-01T09:00:00.000Z',
  changed: '2026-04-01T09:00:00.000Z',
  ...more,
});
const feed = (...items: FeedItem[]): Feed => ({
  id: 'tag:a.example,2026:archive:/huts/',
  title: 'Huts · A',
  home: 'https://a.example/huts/',
  atom: 'https://a.example/huts/feed.atom',
  json: 'https://a.example/huts/feed.json',
  language: 'en-GB',
  by: 'A',
  items,
});
const parser = new XMLParser({ ignoreAttributes: false, isArray: (name) => ['entry', 'link', 'url'].includes(name) });
type Entry = Record<string, string> & { author?: { name: string } };
const read = (text: string) =>
  (parser.parse(text) as { feed: Record<string, string> & { entry?: Entry[]; author: { name: string } } }).feed;
/** RFC 3339, 5.6, as RFC 4287 3.3 asks for it. */
const RFC3339 = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}(\.\d+)?(Z|[+-]\d{2}:\d{2})$/;

describe('Atom', () => {
  it('has what RFC 4287 says it must: ids, titles, times, an author for each entry, and itself', () => {
    const found = read(atomFeed(feed(item(), item({ id: 'tag:a.example,2026-01-01:record:2', author: undefined }))));
    // 4.1.1: exactly one id, title and updated; 4.2.6: ids are IRIs.
    for (const one of [found, ...(found.entry ?? [])]) {
      expect(typeof one.id).toBe('string');
      expect(() => new URL(one.id as string)).not.toThrow();
      expect(typeof one.title).toBe('string');
      expect(one.updated).toMatch(RFC3339);
    }
    // 4.1.1: authors of the feed stand for entries without.
    expect(found.author.name).toBe('A');
    expect(found.entry?.[0]?.author?.name).toBe('Ada Writer');
    expect(found.entry?.[1]?.author).toBeUndefined();
    expect(found['@_xmlns']).toBe('http://www.w3.org/2005/Atom');
    const links = found.link as unknown as Record<string, string>[];
    expect(links.map((link) => [link['@_rel'], link['@_href']])).toEqual([
      ['self', 'https://a.example/huts/feed.atom'],
      ['alternate', 'https://a.example/huts/'],
    ]);
    expect(found.updated).toBe('2026-04-01T09:00:00.000Z');
  });

  it('is read by a library that reads feeds', async () => {
    const found = await new Parser().parseString(atomFeed(feed(item())));
    expect(found.title).toBe('Huts · A');
    expect(found.items).toHaveLength(1);
    expect(found.items[0]).toMatchObject({
      title: 'Rope & <b>axe</b>',
      link: 'https://a.example/huts/one?x=1&y=2',
      author: 'Ada Writer',
      isoDate: '2026-03-01T09:00:00.000Z',
    });
  });

  it('is well formed whatever its texts are, and gives them back', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'grapheme' }), (title, summary) => {
        const text = atomFeed(feed(item({ title, summary, terms: [title] })));
        expect(XMLValidator.validate(text)).toBe(true);
      }),
      { numRuns: 300 },
    );
    expect(read(atomFeed(feed(item({ title: 'One\u0000two\ud800three' })))).entry?.[0]?.title).toBe('Onetwothree');
    expect(read(atomFeed(feed())).updated).toMatch(RFC3339);
  });
});

it('JSON Feed has the members that version 1.1 requires, each with what it may have', () => {
  const found = JSON.parse(JSON.stringify(jsonFeed(feed(item(), item({ summary: undefined, author: undefined }))))) as {
    items: Record<string, unknown>[];
  };
  // jsonfeed.org/version/1.1: version and title; of an item the id, and content_html or content_text.
  expect(found).toMatchObject({ version: 'https://jsonfeed.org/version/1.1', title: 'Huts · A', language: 'en-GB' });
  for (const one of found.items) {
    expect(typeof one.id).toBe('string');
    expect(typeof one.content_text).toBe('string');
    expect(one.date_published).toMatch(RFC3339);
  }
  expect(found.items[0]).toMatchObject({ authors: [{ name: 'Ada Writer' }], tags: ['North', 'A & B'] });
  expect(found.items[1]).not.toHaveProperty('authors');
});

it('tags name an authority, a day and a thing (RFC 4151, 2.1)', () => {
  expect(tagOf('https://a.example:8443', '2026-03-01', 'record:1')).toMatch(
    /^tag:[a-z0-9.-]+,\d{4}(-\d{2}(-\d{2})?)?:.+$/,
  );
});

it('sitemaps are as sitemaps.org has them: entities escaped, times as the W3C writes them, and an index of several', () => {
  const text = sitemap([
    { url: 'https://a.example/a?b=1&c=<2>', changed: '2026-03-01T09:00:00.000Z' },
    { url: 'https://a.example/' },
  ]);
  expect(text).toContain('<loc>https://a.example/a?b=1&amp;c=&lt;2&gt;</loc>');
  expect(XMLValidator.validate(text)).toBe(true);
  const { urlset } = parser.parse(text) as { urlset: Record<string, string> & { url: { loc: string }[] } };
  expect(urlset['@_xmlns']).toBe('http://www.sitemaps.org/schemas/sitemap/0.9');
  expect(urlset.url.map((one) => one.loc)).toHaveLength(2);
  expect(XMLValidator.validate(sitemapIndex([{ url: 'https://a.example/sitemap-1.xml' }]))).toBe(true);
});

it('robots are told in lines of RFC 9309 what not to fetch, and where the sitemap is', () => {
  const lines = robots('https://a.example').trim().split('\n').filter(Boolean);
  for (const line of lines) expect(line).toMatch(/^(User-agent|Disallow|Sitemap): \S+$/);
  expect(lines.at(-1)).toBe('Sitemap: https://a.example/sitemap.xml');
});
