import { escapeHtml } from '../base/text';

/** One record in a feed. */
export interface FeedItem {
  /** Stays the same for good, whatever the address becomes. */
  id: string;
  title: string;
  url: string;
  /** Plain text. */
  summary?: string;
  author?: string;
  /** Names of its terms. */
  terms: string[];
  picture?: { url: string; type: string; alt: string };
  /** Instants, as RFC 3339 writes them. */
  published: string;
  changed: string;
}

/** What is newest in an archive. Addresses are whole, with scheme and host. */
export interface Feed {
  id: string;
  title: string;
  description?: string;
  /** Of the archive itself, and of the feed in either form. */
  home: string;
  atom: string;
  json: string;
  /** BCP 47. */
  language: string;
  /** Whose site it is; the author of what has none. */
  by: string;
  items: FeedItem[];
}

/** Both forms of a feed: the last part of their addresses, and their media types (RFC 4287, 7; JSON Feed 1.1). */
export const FEED_FORMS = {
  'feed.atom': 'application/atom+xml',
  'feed.json': 'application/feed+json',
} as const;

/** How many of an archive's newest records a feed has. */
export const FEED_LENGTH = 20;

/** An id by the tag scheme (RFC 4151): the host and a day on which it was the site's, and what is named. */
export const tagOf = (origin: string, day: string, what: string): string =>
  `tag:${new URL(origin).hostname},${day}:${what}`;

/** Signs that XML 1.0 has no place for (2.2, Char). */
const NOT_XML =
  // eslint-disable-next-line no-control-regex
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
export const xmlText = (text: string): string => escapeHtml(text.replace(NOT_XML, ''));

/** The time at which a feed last changed: that of its newest change, or long ago where it has nothing. */
const updatedOf = (items: readonly FeedItem[]): string =>
  items.reduce((last, { changed }) => (changed > last ? changed : last), '1970-01-01T00:00:00.000Z');

/** A feed as Atom (RFC 4287). Feeds and entries have the id, title and updated that they must (4.1.1, 4.1.2), and an author. */
export function atomFeed(feed: Feed): string {
  const tag = (name: string, text: string | undefined) => (text ? `<${name}>${xmlText(text)}</${name}>` : '');
  const link = (rel: string, href: string, type: string, more = '') =>
    `<link rel="${rel}" href="${xmlText(href)}" type="${xmlText(type)}"${more}/>`;
  const entries = feed.items.map((item) =>
    [
      '<entry>',
      tag('id', item.id),
      `<title>${xmlText(item.title)}</title>`,
      link('alternate', item.url, 'text/html'),
      tag('published', item.published),
      tag('updated', item.changed),
      item.author ? `<author>${tag('name', item.author)}</author>` : '',
      ...item.terms.map((term) => `<category term="${xmlText(term)}"/>`),
      item.summary ? `<summary type="text">${xmlText(item.summary)}</summary>` : '',
      item.picture
        ? link('enclosure', item.picture.url, item.picture.type, ` title="${xmlText(item.picture.alt)}"`)
        : '',
      '</entry>',
    ]
      .filter(Boolean)
      .join('\n'),
  );
  return [
    '<?xml version="1.0" encoding="utf-8"?>',
    `<feed xmlns="http://www.w3.org/2005/Atom" xml:lang="${xmlText(feed.language)}">`,
    tag('id', feed.id),
    `<title>${xmlText(feed.title)}</title>`,
    tag('subtitle', feed.description),
    tag('updated', updatedOf(feed.items)),
    `<author>${tag('name', feed.by || 'The site')}</author>`,
    link('self', feed.atom, FEED_FORMS['feed.atom']),
    link('alternate', feed.home, 'text/html'),
    ...entries,
    '</feed>',
    '',
  ]
    .filter((line, i, all) => line || i === all.length - 1)
    .join('\n');
}

/** The same feed as JSON Feed 1.1 (jsonfeed.org/version/1.1). */
export function jsonFeed(feed: Feed): Record<string, unknown> {
  return {
    version: 'https://jsonfeed.org/version/1.1',
    title: feed.title,
    home_page_url: feed.home,
    feed_url: feed.json,
    ...(feed.description ? { description: feed.description } : {}),
    language: feed.language,
    authors: [{ name: feed.by || 'The site' }],
    items: feed.items.map((item) => ({
      id: item.id,
      url: item.url,
      title: item.title,
      content_text: item.summary ?? item.title,
      ...(item.picture ? { image: item.picture.url } : {}),
      date_published: item.published,
      date_modified: item.changed,
      ...(item.author ? { authors: [{ name: item.author }] } : {}),
      ...(item.terms.length ? { tags: item.terms } : {}),
    })),
  };
}
