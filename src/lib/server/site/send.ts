import { createHash } from 'node:crypto';
import { keysHeader, sharedSeconds } from '../queries/shared-caches';
import type { PageResponse } from './http-response';

/**
 * How caches may keep what every visitor gets (RFC 9111; stale-while-revalidate: RFC 5861): they ask each time whether it
 * is still so, which costs next to nothing. Where the operator allows caches that many visitors share some seconds, they
 * answer for so long without asking, and a minute more while they ask.
 */
export function cacheRule(): string {
  const seconds = sharedSeconds();
  return seconds ? `public, max-age=0, s-maxage=${seconds}, stale-while-revalidate=60` : 'public, no-cache';
}

/** The ETag of what is sent, without quotes. */
export const etagOf = (body: string): string => createHash('sha256').update(body).digest('base64url').slice(0, 22);

/**
 * An answer that is sent again only where it has changed: its ETag is made from what it says, and whoever has that already
 * (`known` is their If-None-Match) is told so (RFC 9110, 8.8.3, 13.1.2 and 15.4.5). What is `secret` is kept nowhere on its way.
 * `tag` is its ETag, where that is known already.
 */
export function ifNew(
  known: string | null | undefined,
  body: string,
  headers: Record<string, string>,
  status = 200,
  secret = false,
  tag = etagOf(body),
): PageResponse {
  const etag = `"${tag}"`;
  const own = {
    ...(status === 200 && !secret && keysHeader()),
    ...headers,
    etag,
    'cache-control': secret ? 'private, no-store' : status === 200 ? cacheRule() : 'no-cache',
  };
  const tags = known ? known.split(',').map((one) => one.trim().replace(/^W\//, '')) : [];
  if (status === 200 && (tags.includes(etag) || tags.includes('*'))) return { status: 304, headers: own };
  return { status, headers: own, body };
}

/** An answer as the router sends it. */
export const asResponse = ({ status, headers, body }: PageResponse): Response =>
  new Response(body === undefined || typeof body === 'string' ? body : new Uint8Array(body), {
    status,
    headers: { ...headers },
  });

/** The same as `ifNew`, for a request to the router. */
export const sendIfNew = (
  request: Request,
  body: string,
  headers: Record<string, string>,
  status = 200,
  secret = false,
): Response => asResponse(ifNew(request.headers.get('if-none-match'), body, headers, status, secret));

/** A path that stays on this site: one that begins with two slashes would name another host (RFC 3986, 4.2). */
export const ownPath = (path: string): string => path.replace(/^[/\\]+/, '/');

/** What stands in a Location header: signs beyond ASCII, blanks and controls by their numbers (RFC 9110, 10.2.2; RFC 3987, 3.1). */
export const locationOf = (address: string): string =>
  address.toWellFormed().replace(/[^\x21-\x7e]+/gu, encodeURIComponent);

/** A path of this site that was asked for, with its question; the front page where it leads anywhere else. */
export function pathWithin(asked: string | null, origin: string): string {
  try {
    const url = new URL(asked ?? '/', origin);
    return url.origin === origin ? ownPath(url.pathname) + url.search : '/';
  } catch {
    return '/';
  }
}
