import type { Cookies } from '@sveltejs/kit';

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
