import { createHash } from 'node:crypto';
import type { RequestHandler } from './$types';
import { atomFeed, FEED_FORMS, jsonFeed } from '$lib/core/serving/feeds';
import { feedAt } from '$lib/server/site/outlets';
import { answer } from '$lib/server/site/respond';
import { sendIfNew } from '$lib/server/site/send';
import site from '$lib/site/site.css?url';

export const trailingSlash = 'ignore';

/**
 * Nothing a template draws can run: pages carry no script, and none is allowed. Beside its style sheets a page has
 * rules of its own only where it has grounds in colours from fields, and these are named by their hash.
 */
const policy = (css: string | undefined): string =>
  `default-src 'none'; img-src 'self'; style-src 'self'${css ? ` 'sha256-${createHash('sha256').update(css).digest('base64')}'` : ''}; font-src 'self'; frame-src 'self' https:; base-uri 'none'; form-action 'self'; frame-ancestors 'self'`;

/** What stands in the question of an address beyond this is not read. */
const MOST_ASKED = 200;

export const GET: RequestHandler = async ({ request, url }) => {
  const path = url.pathname.split('/').map(decodeURIComponent).join('/');
  // A form sends what was left open too; the address that can be shared is the one without.
  const given = [...url.searchParams].slice(0, MOST_ASKED);
  const said = given.filter(([, value]) => value !== '');
  if (said.length < given.length) {
    const query = new URLSearchParams(said).toString();
    return new Response(null, { status: 302, headers: { location: url.pathname + (query && `?${query}`) } });
  }
  const asked: Record<string, string[]> = {};
  for (const [key, value] of said) (asked[key] ??= []).push(value);
  const found = await feedAt(path, url.origin);
  if (found) {
    const text = found.form === 'feed.atom' ? atomFeed(found.feed) : JSON.stringify(jsonFeed(found.feed), null, 2);
    return sendIfNew(request, text, { 'content-type': `${FEED_FORMS[found.form]}; charset=utf-8` });
  }
  const { status, html, css, to } = await answer(path, { styles: [site], origin: url.origin }, asked);
  if (to) return new Response(null, { status, headers: { location: to } });
  return sendIfNew(
    request,
    html,
    { 'content-type': 'text/html; charset=utf-8', 'content-security-policy': policy(css) },
    status,
  );
};
