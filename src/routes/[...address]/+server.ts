import type { RequestHandler } from './$types';
import { answer } from '$lib/server/site/respond';
import site from '$lib/site/site.css?url';

export const trailingSlash = 'ignore';

/**
 * Nothing a template draws can run: pages carry no script, and none is allowed. Style attributes hold checked colours
 * from fields, and nothing else.
 */
const POLICY =
  "default-src 'none'; img-src 'self'; style-src 'self'; style-src-attr 'unsafe-inline'; font-src 'self'; frame-src 'self' https:; base-uri 'none'; form-action 'self'; frame-ancestors 'self'";

export const GET: RequestHandler = async ({ url }) => {
  const path = url.pathname.split('/').map(decodeURIComponent).join('/');
  const { status, html, to } = await answer(path, { styles: [site], origin: url.origin });
  if (to) return new Response(null, { status, headers: { location: to } });
  return new Response(html, {
    status,
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': POLICY,
      'cache-control': 'no-cache',
    },
  });
};
