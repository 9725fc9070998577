/** Escapes text for HTML content and for double-quoted attributes. */
export function escapeHtml(text: string): string {
  return UNSAFE.test(text) ? text.replace(UNSAFE_ALL, (c) => ESCAPES[c] as string) : text;
}
const UNSAFE = /[&<>"']/;
const UNSAFE_ALL = /[&<>"']/g;
const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

/** The form in which text is compared: Unicode normalised (NFC) and without case. */
export function fold(text: string): string {
  return text.normalize('NFC').toLowerCase().normalize('NFC');
}

const PLAIN_PATH = /^\/(?![/\\])[\x21-\x7e]*$/;

/**
 * An address that may stand in a link, or '' where it may not. Allowed are http, https, mailto, tel and relative
 * addresses. Control characters and white space at either end are taken away first, as browsers do (WHATWG URL, 4.4).
 */
export function safeUrl(url: string): string {
  if (PLAIN_PATH.test(url)) return url;
  // eslint-disable-next-line no-control-regex
  const bare = url.replace(/[\u0000-\u001f\u007f]/g, '').trim();
  const scheme = /^([a-z][a-z0-9+.-]*):/i.exec(bare);
  if (scheme) return /^(https?|mailto|tel)$/i.test(scheme[1] as string) ? bare : '';
  return bare.startsWith('//') || bare.startsWith('\\') || bare.startsWith('/\\') ? '' : bare;
}

/** A readable part of an address from a title: letters and digits of any script, joined by hyphens; '' if none. */
export function slugOf(title: string): string {
  return title
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80)
    .replace(/-+$/, '');
}
