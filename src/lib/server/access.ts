import type { Cookies, RequestEvent } from '@sveltejs/kit';
import type { Principal } from './api/operation';
import { isAllowedOrigin } from './api/cors';
import { sessionWith } from './people/sessions';
import { tokenWith } from './people/tokens';
import { isAnybodyThere } from './queries/people';
import { shareExpiry } from './services/shares';

/** Holds the secret of a session. */
export const SESSION_COOKIE = 'plum_session';

/** With TLS no other host, and no page without it, can set a cookie of this name (RFC 6265bis, 4.1.3). */
const cookieName = (url: URL): string => (url.protocol === 'https:' ? `__Host-${SESSION_COOKIE}` : SESSION_COOKIE);

/** Keeps a session in the browser, until the browser is closed or the session ends. */
export function keepSession(cookies: Cookies, url: URL, secret: string): void {
  const secure = url.protocol === 'https:';
  cookies.set(cookieName(url), secret, { path: '/', httpOnly: true, sameSite: 'lax', secure });
}
export const sessionSecret = (cookies: Cookies, url: URL): string | undefined => cookies.get(cookieName(url));
export const dropSession = (cookies: Cookies, url: URL): void => cookies.delete(cookieName(url), { path: '/' });

/** The one place that decides who is asking: by a session, or at the API by a token. Asked once for a request. */
export async function whoIsAsking({
  request,
  url,
  cookies,
}: Pick<RequestEvent, 'request' | 'url' | 'cookies'>): Promise<Principal | undefined> {
  if (isApi(plainPath(url) ?? '') && request.headers.has('authorization'))
    return tokenWith(request.headers.get('authorization'));
  return sessionWith(sessionSecret(cookies, url));
}

/** Whether somebody may see the draft: signed in, or by a link that was shared with them. */
export async function seesDraft(event: Pick<RequestEvent, 'request' | 'url' | 'cookies'>): Promise<boolean> {
  const token = event.cookies.get(DRAFT_COOKIE);
  if (token !== undefined && (await shareExpiry(token))) return true;
  return (await whoIsAsking(event)) !== undefined;
}

/**
 * A path as routes are found by it: escapes that stand for plain signs are those signs. None where it is not well formed. Whatever is decided by a
 * path is decided by this.
 */
export function plainPath({ pathname }: Pick<URL, 'pathname'>): string | undefined {
  try {
    return pathname.split('%25').map(decodeURI).join('%25');
  } catch {
    return undefined;
  }
}

let anybody = false;
/** Whether there is an account yet; until then nothing of the studio answers. */
export const hasOwner = async (): Promise<boolean> => (anybody ||= await isAnybodyThere());

/** Where somebody comes in, who is not signed in yet. */
export const isEntry = (path: string): boolean => /^\/studio\/(sign-in|link)(\/|$)/.test(path);

const isApi = (path: string): boolean => /^\/api(\/|$)/.test(path);

/** Addresses that nobody may ask for who is not signed in. */
export const isStudio = (path: string): boolean => /^\/(studio|api)(\/|$)/.test(path);

/**
 * Whether a request that changes something, or asks the API for anything, comes from our own pages. Browsers name the asking page's origin with every
 * such request (Fetch standard, 3.1); programs that name none are no browsers, and carry nobody's session.
 */
export function fromOwnPages(request: Request, url: URL): boolean {
  if ((request.method === 'GET' || request.method === 'HEAD') && !isApi(plainPath(url) ?? '')) return true;
  // A page of those that may: it comes with a token, and whoever is signed in here is not asked for.
  if (request.headers.has('authorization') && isAllowedOrigin(request)) return true;
  const site = request.headers.get('sec-fetch-site');
  if (site) return site === 'same-origin' || site === 'none';
  const origin = request.headers.get('origin');
  return origin === null || origin === url.origin;
}

/** Holds the token of a link by which somebody sees the draft. */
export const DRAFT_COOKIE = 'plum_draft';

/** Names by which this computer calls itself. */
const LOOPBACK = /^(localhost|127(\.\d{1,3}){3}|\[::1\])$/;

/**
 * Whether a request names this site by one of its own names: that of its public origin, those of `PLUM_NAMES` (parted by
 * commas), and loopback. Whoever answers to any name is read by pages of others, which let a name of theirs lead here.
 */
export function isOwnName(host: string | null, origin: string): boolean {
  if (host === null) return false;
  const name = host.toLowerCase().replace(/:\d{1,5}$/, '');
  if (LOOPBACK.test(name)) return true;
  const names = (process.env.PLUM_NAMES ?? '')
    .toLowerCase()
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean);
  const listens = process.env.PLUM_HTTP_HOST?.toLowerCase();
  return name === new URL(origin).hostname || names.includes(name) || name === listens;
}

/** The scheme and host that visitors know this site by: as it is configured, or else as the request has it. */
export const publicOrigin = (url: URL): string => process.env.PLUM_HTTP_ORIGIN ?? `http://localhost:${url.port}`;

/** Where this very process answers, whatever stands before it; programs of its own ask it here, not by its public name. */
export function ownOrigin(url: URL): string {
  const { PLUM_HTTP_HOST: host = '127.0.0.1', PLUM_HTTP_PORT: port } = process.env;
  if (!port) return url.origin;
  const at = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
  return `http://${at.includes(':') ? `[${at}]` : at}:${port}`;
}
