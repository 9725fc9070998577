import { error } from '@sveltejs/kit';
import { sitemap } from '$lib/core/serving/sitemap';
import { sitemapPart } from '$lib/server/site/outlets';
import { sendIfNew } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, request, url }) => {
  const found = /^[1-9]\d{0,5}$/.test(params.part) ? await sitemapPart(Number(params.part), url.origin) : undefined;
  if (!found) error(404, 'There is no such part of the sitemap.');
  return sendIfNew(request, sitemap(found.entries), { 'content-type': 'application/xml; charset=utf-8' });
};
