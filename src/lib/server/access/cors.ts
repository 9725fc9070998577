import { configuration } from '../base/server';

/** Origins whose pages may ask the API with tokens (`PLUM_CORS`); nobody's session is ever asked with from elsewhere. */
const allowed = (): readonly string[] => configuration().corsOrigins;

/** Whether a request is one of a page that may ask, by a token and with nothing that browsers send along by themselves. */
export function isAllowedOrigin(request: Request): boolean {
  const origin = request.headers.get('origin');
  return origin !== null && allowed().includes(origin);
}

const METHODS = 'GET, HEAD, POST, PUT, PATCH, DELETE';
const HEADERS = 'Authorization, Content-Type, If-Match, If-None-Match, Idempotency-Key';
const SHOWN = 'ETag, Link, Retry-After, X-Request-Id, Idempotency-Replayed';

/** What an answer of the API says of who may read it (Fetch standard, 3.3). Credentials are never let through. */
export function corsHeaders(request: Request): [string, string][] {
  if (!allowed().length) return [];
  const origin = request.headers.get('origin');
  return [
    ['vary', 'Origin'],
    ...(origin !== null && isAllowedOrigin(request)
      ? ([
          ['access-control-allow-origin', origin],
          ['access-control-expose-headers', SHOWN],
        ] satisfies [string, string][])
      : []),
  ];
}

/** Answers what a browser asks before it asks (Fetch standard, 4.8); undefined where it is no such question. */
export function answerPreflight(request: Request): Response | undefined {
  if (request.method !== 'OPTIONS' || !request.headers.has('access-control-request-method')) return undefined;
  if (!isAllowedOrigin(request)) return undefined;
  return new Response(null, {
    status: 204,
    headers: {
      'access-control-allow-methods': METHODS,
      'access-control-allow-headers': HEADERS,
      'access-control-max-age': '600',
    },
  });
}
