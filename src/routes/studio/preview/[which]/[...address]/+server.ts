import { error } from '@sveltejs/kit';
import { releasedDesign, siteDesign } from '$lib/server/site/design';
import { answer } from '$lib/server/site/respond';
import { sitePolicy } from '$lib/server/site/policy';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

export const trailingSlash = 'ignore';

/** A page for pictures of it: `/studio/preview/draft/huts/`, or as a release has it, `/studio/preview/3/huts/`. */
export const GET: RequestHandler = async ({ params, url }) => {
  const number = /^\d{1,9}$/.test(params.which) ? Number(params.which) : undefined;
  if (number === undefined && params.which !== 'draft') error(404, 'There is no such state of the site.');
  const design =
    number === undefined
      ? await siteDesign('draft')
      : await releasedDesign(number).catch(() => error(404, 'There is no release with this number.'));
  const slash = url.pathname.endsWith('/') && params.address ? '/' : '';
  const path = `/${params.address}${params.address.endsWith('/') ? '' : slash}`;
  const { html, css, players, status } = await answer(path, { base, origin: url.origin, design });
  return new Response(html || '<!DOCTYPE html><title>Moved</title><p>This address leads elsewhere.</p>', {
    status: status === 301 ? 200 : status,
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': sitePolicy(css, players),
      'cache-control': 'no-store',
    },
  });
};
