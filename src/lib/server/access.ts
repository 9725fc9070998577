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
