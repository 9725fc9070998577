import type { RequestEvent } from '@sveltejs/kit';
import type { Principal } from '../people/principal';
import { isAllowedOrigin } from './cors';
import { sessionWith } from '../people/sessions';
import { tokenWith } from '../people/tokens';
import { isAnybodyThere } from '../queries/people';
import { DRAFT_COOKIE, shareExpiry } from '../services/shares';
import { plainPath } from '../base/origins';
import { perServer } from '../base/server';
import { sessionSecret } from '../people/session-cookie';

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

const owner = perServer(() => ({ isThere: false }));
/** Whether there is an account yet; until then nothing of the studio answers. */
export const hasOwner = async (): Promise<boolean> => (owner().isThere ||= await isAnybodyThere());

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
