import { createHash } from 'node:crypto';

/**
 * An answer that is sent again only where it has changed: its ETag is made from what it says, and whoever has that already
 * is told so (RFC 9110, 8.8.3, 13.1.2 and 15.4.5).
 */
export function sendIfNew(request: Request, body: string, headers: Record<string, string>, status = 200): Response {
  const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`;
  const own = { ...headers, etag, 'cache-control': 'no-cache' };
  const known = (request.headers.get('if-none-match') ?? '').split(',').map((one) => one.trim().replace(/^W\//, ''));
  if (status === 200 && (known.includes(etag) || known.includes('*')))
    return new Response(null, { status: 304, headers: own });
  return new Response(body, { status, headers: own });
}
