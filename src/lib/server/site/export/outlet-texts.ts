import type { ArchiveOf } from '../../../core/addresses/archives';
import { atomFeed, jsonFeed } from '../../../core/serving/feeds';
import { FILE_ORIGIN } from '../../../core/serving/files';
import { sitemap, sitemapIndex } from '../../../core/serving/sitemap';
import type { SiteDesign } from '../design';
import { feedAt, feedsOf, sitemapPart } from '../outlets';
import type { Text } from './packing';

export function drawSheets(design: SiteDesign, base: string): Text[] {
  const { rare, ...sheet } = design.sheet(base);
  return [sheet, rare].flatMap(({ css, address }) => (css ? [{ address, as: 'sheet', content: css }] : []));
}

export async function drawFeeds(design: SiteDesign, archives: readonly ArchiveOf[], siteAt: string): Promise<Text[]> {
  const texts: Text[] = [];
  for (const address of archives.flatMap((of) => Object.values(feedsOf(of, design.model) ?? {}))) {
    const found = await feedAt(address.split('/').map(decodeURIComponent).join('/'), FILE_ORIGIN, design, siteAt);
    if (!found) continue;
    const { feed, form } = found;
    const content = form === 'feed.atom' ? atomFeed(feed) : JSON.stringify(jsonFeed(feed), null, 2);
    texts.push({ address, as: 'data', content });
  }
  return texts;
}

/** The same pages as online, each at the address of its file, and what robots are told. */
export async function drawSitemaps(design: SiteDesign, site: string): Promise<Text[]> {
  const texts: Text[] = [];
  let parts = 1;
  for (let i = 1; i <= parts; i++) {
    const own = await sitemapPart(i, '', design);
    parts = own?.parts ?? parts;
    const entries = (own?.entries ?? []).map(({ url, ...more }) => ({ url: FILE_ORIGIN + url, ...more }));
    texts.push({ address: `/sitemap${parts > 1 ? `-${i}` : ''}.xml`, as: 'data', content: sitemap(entries) });
  }
  if (parts > 1) {
    const all = Array.from({ length: parts }, (_, i) => ({ url: `${site}sitemap-${i + 1}.xml` }));
    texts.push({ address: '/sitemap.xml', as: 'data', content: sitemapIndex(all) });
  }
  const robots = `User-agent: *\nAllow: /\n\nSitemap: ${site}sitemap.xml\n`;
  return [...texts, { address: '/robots.txt', as: 'data', content: robots }];
}
