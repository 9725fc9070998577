import { configuration } from './server';

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
  const { names, host: listens } = configuration();
  return name === new URL(origin).hostname || names.includes(name) || name === listens.toLowerCase();
}

/** The scheme and host that visitors know this site by: as it is configured, or else as the request has it. */
export const publicOrigin = (url: URL): string => configuration().origin ?? `http://localhost:${url.port}`;

/** Where this very process answers, whatever stands before it; programs of its own ask it here, not by its public name. */
export function ownOrigin(url: URL): string {
  const { host, port } = configuration();
  if (!port) return url.origin;
  const at = host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host;
  return `http://${at.includes(':') ? `[${at}]` : at}:${port}`;
}
