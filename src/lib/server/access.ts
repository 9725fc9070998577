/** Who is asking. Sign-in will decide this from a session; until then whoever reaches the studio is its designer. */
export type Who = { role: 'visitor' } | { role: 'designer'; name: string };

/** The one place that decides who is asking, from the request alone. */
export function whoIsAsking(url: URL): Who {
  return isStudio(url.pathname) ? { role: 'designer', name: 'Designer' } : { role: 'visitor' };
}

/** Addresses that only designers may ask for. */
export const isStudio = (path: string): boolean => /^\/(studio|api)(\/|$)/.test(path);

/**
 * Whether a request that changes something comes from our own pages. Browsers name the asking page's origin with every
 * such request (Fetch standard, 3.1); programs that name none are no browsers, and carry nobody's session.
 */
export function fromOwnPages(request: Request, url: URL): boolean {
  if (request.method === 'GET' || request.method === 'HEAD') return true;
  const site = request.headers.get('sec-fetch-site');
  if (site) return site === 'same-origin' || site === 'none';
  const origin = request.headers.get('origin');
  return origin === null || origin === url.origin;
}

/** Holds the token of a link by which somebody sees the draft. */
export const DRAFT_COOKIE = 'plum_draft';
