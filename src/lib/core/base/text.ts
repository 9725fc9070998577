/** Escapes text for HTML content and for double-quoted attributes. */
export function escapeHtml(text: string): string {
  return UNSAFE.test(text) ? text.replace(UNSAFE_ALL, (c) => ESCAPES[c] as string) : text;
}
const UNSAFE = /[&<>"']/;
const UNSAFE_ALL = /[&<>"']/g;
const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

// eslint-disable-next-line no-control-regex
const ASCII = /^[\x00-\x7f]*$/;

/** The form in which text is compared: Unicode normalised (NFC) and without case. */
export function fold(text: string): string {
  if (ASCII.test(text)) return text.toLowerCase();
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
  // No more of a title can become part of its address.
  return title
    .slice(0, 1000)
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .normalize('NFC')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80)
    .replace(/-+$/, '');
}

/** A key from words: small letters, digits and underscores, beginning with a letter; `fallback` where nothing is left. */
export const keyOf = (words: string, fallback: string): string =>
  slugOf(words)
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '')
    .slice(0, 60) || fallback;

const BLOCK_END = /<\/(?:p|div|h[1-6]|li|ul|ol|blockquote|pre|figure|figcaption|tr|table)>|<hr[^>]*>/gi;
const NAMED: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", nbsp: '\u00a0' };

/**
 * The text of sanitised HTML: blocks parted by a blank line, breaks kept, markup gone. Character references are those
 * that sanitising leaves: numeric ones and the few names above.
 */
export function htmlText(html: string): string {
  return html
    .replace(/\s+/g, ' ')
    .replace(/<br\s*\/?>\s*/gi, '\n')
    .replace(/<\/li>\s*(?=<li)/gi, '\n')
    .replace(BLOCK_END, '\n\n')
    .replace(/<[^>]*>/g, '')
    .replace(/&(#x[0-9a-f]+|#\d+|[a-z]+);/gi, (whole, name: string) =>
      name[0] === '#'
        ? String.fromCodePoint(Number(/^#x/i.test(name) ? `0x${name.slice(2)}` : name.slice(1)) || 0xfffd)
        : (NAMED[name.toLowerCase()] ?? whole),
    )
    .replace(/[ \t]*\n[ \t]*/g, '\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}

/** How many code points a text has; counted one by one, since an array of those of a long text costs more than the text. */
export function codePointCount(text: string): number {
  let count = 0;
  for (const _ of text) count++;
  return count;
}
