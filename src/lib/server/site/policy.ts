import { createHash } from 'node:crypto';

/**
 * Nothing a template draws can run: pages carry no script, and none is allowed. Beside its style sheets a page has
 * rules of its own only where it has grounds in colours from fields, and these are named by their hash. A typeface for few
 * signs stands within its style sheet. Frames come from the hosts that fields allow for players.
 */
export const sitePolicy = (css: string | undefined, players: readonly string[] = []): string =>
  `default-src 'none'; img-src 'self'; style-src 'self'${css ? ` 'sha256-${createHash('sha256').update(css).digest('base64')}'` : ''}; font-src 'self' data:; frame-src 'self'${players.map((host) => ` https://${host}`).join('')}; base-uri 'none'; form-action 'self'; frame-ancestors 'self'`;

/** The same for a page that is a file: what only a header can say is left out (CSP level 3, 3.3). */
export const metaPolicy = (css: string | undefined, players: readonly string[] = []): string =>
  `<meta http-equiv="Content-Security-Policy" content="${sitePolicy(css, players).replace(/; frame-ancestors [^;]*$/, '')}">`;
