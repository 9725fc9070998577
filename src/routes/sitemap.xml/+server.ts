import { sitemap, sitemapIndex } from '$lib/core/serving/sitemap';
import { sitemapPart } from '$lib/server/site/outlets';
import { sendIfNew } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

/** All pages; of a site with very many an index of several sitemaps. */
export const GET: RequestHandler = async ({ request, url }) => {
  const { parts, entries } = (await sitemapPart(1, url.origin)) ?? { parts: 1, entries: [] };
  const whole =
    parts === 1
      ? sitemap(entries)
      : sitemapIndex(Array.from({ length: parts }, (_, i) => ({ url: `${url.origin}/sitemap-${i + 1}.xml` })));
  return sendIfNew(request, whole, { 'content-type': 'application/xml; charset=utf-8' });
};
