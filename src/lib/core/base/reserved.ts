/** First address parts of the archives that belong to no content type. */
export const BY = 'by';
export const SEARCH = 'search';

/** Names of the feeds of an archive. */
export const FEEDS = ['feed.atom', 'feed.json'] as const;

/** The part of an address that stands for a taxonomy. */
export const taxonomyBase = (key: string): string => key.replaceAll('_', '-');

/** First address parts that the application itself answers, and no page of the site. */
export const OWN_PARTS: ReadonlySet<string> = new Set([
  'studio',
  'api',
  'media',
  'player',
  'styles',
  'typefaces',
  'draft',
  '_app',
  'healthz',
  'readyz',
]);

/** First address parts that no content type may have, and no record where its own part comes first. */
export const RESERVED: ReadonlySet<string> = new Set([
  ...OWN_PARTS,
  'page',
  'favicon',
  'robots',
  'sitemap',
  BY,
  SEARCH,
]);

/** Those of them that were not refused from the first, so that a site may have a type or a taxonomy of that name; it is read. */
const LATE: ReadonlySet<string> = new Set(['typefaces']);
/** First address parts that no site has. */
export const REFUSED_FROM_THE_FIRST: ReadonlySet<string> = new Set([...RESERVED].filter((part) => !LATE.has(part)));
