import { xmlText } from './feeds';

/** One page of the site for those who go through all of it. */
export interface SitemapEntry {
  /** Whole, with scheme and host. */
  url: string;
  /** When it last changed, an instant. */
  changed?: string;
}

/** A sitemap has 50,000 addresses at most; more are parted into several (sitemaps.org, protocol). */
export const SITEMAP_LENGTH = 50_000;

const HEAD = '<?xml version="1.0" encoding="UTF-8"?>';
const SPACE = 'http://www.sitemaps.org/schemas/sitemap/0.9';

const entry = (name: string, { url, changed }: SitemapEntry): string =>
  `<${name}><loc>${xmlText(url)}</loc>${changed ? `<lastmod>${changed}</lastmod>` : ''}</${name}>`;

/** A sitemap of these pages. */
export const sitemap = (entries: readonly SitemapEntry[]): string =>
  [HEAD, `<urlset xmlns="${SPACE}">`, ...entries.map((one) => entry('url', one)), '</urlset>', ''].join('\n');

/** An index of sitemaps. */
export const sitemapIndex = (entries: readonly SitemapEntry[]): string =>
  [HEAD, `<sitemapindex xmlns="${SPACE}">`, ...entries.map((one) => entry('sitemap', one)), '</sitemapindex>', ''].join(
    '\n',
  );

/** What robots may fetch (RFC 9309), and where the sitemap is: all but the studio, and the endless answers of searches. */
export const robots = (origin: string): string =>
  `User-agent: *\nDisallow: /studio\nDisallow: /api/\nDisallow: /search/\n\nSitemap: ${origin}/sitemap.xml\n`;
