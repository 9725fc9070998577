/** The site as files: where each address goes, and how pages lead to each other wherever the files lie. */

/** The origin that pages are drawn with to be written as files; whatever is whole with it is made anew. */
export const FILE_ORIGIN = 'http://files.invalid';

const decoded = (path: string): string => path.split('/').map(decodeURIComponent).join('/');

/** Names that some file systems refuse, or that would lead elsewhere. */
const safe = (part: string): string => (part === '.' || part === '..' ? `${part}_` : part.replace(/[\\:*?"<>|]/g, '_'));

/** Whether an address is that of a file as it is, and not of a page. */
const isFile = (path: string): boolean => /\.[a-z0-9]{1,6}$/i.test(path) || /^\/(media|player)\//.test(path);

/**
 * The file for an address of the site, a path with escapes and maybe a question: `huts/grey-crag/index.html`. Pages of
 * lists that are asked for in a question are folders of their own.
 */
export function fileFor(address: string, types: Readonly<Record<string, string>> = {}): string {
  const [path = '/', question = ''] = address.split('?');
  const parts = decoded(path).split('/').filter(Boolean).map(safe);
  if (isFile(path)) {
    const known = types[path];
    return parts.join('/') + (known && !/\.[a-z0-9]{2,5}$/i.test(parts.at(-1) ?? '') ? known : '');
  }
  if (question) parts.push(safe(question.replace(/[^\p{L}\p{N}=-]+/gu, '-').replaceAll('=', '-')));
  return [...parts, 'index.html'].join('/');
}

/** The address of a file from the top of the site, as it is linked to: folders end in a slash. */
export const linkTo = (file: string): string =>
  file
    .replace(/(^|\/)index\.html$/, '$1')
    .split('/')
    .map(encodeURIComponent)
    .join('/');

/** One start tag with its attributes; values hold no quote, since those are escaped in what is drawn. */
const TAG = /<[a-z](?:[^"<>]|"[^"]*")*>/gi;
const LEADS = /\s(?:href|src|srcset|poster|action|content)="/;
const ATTRIBUTE = /\s(href|src|srcset|poster|action|content)="([^"]*)"/g;

/** What is known while a page's addresses are made anew. */
export interface Relinking {
  /** The file the page goes into. */
  file: string;
  /** Where the site will be, with a slash at the end; without one whole addresses are left out or made relative. */
  site?: string;
  /** Gives the file of an address of the site as it is linked to from the top, and notes that it is needed. */
  targetOf: (address: string) => string;
  /** Whether links are whole instead of relative. */
  whole?: boolean;
}

const amp = (text: string) => text.replaceAll('&', '&amp;');
const unamp = (text: string) => text.replaceAll('&amp;', '&').replaceAll('&#39;', "'");

/** A link from one file to an address of the site: relative, so that the site may lie in any folder. */
export function relink(address: string, { file, site, targetOf, whole }: Relinking): string {
  const [, path = '/', rest = ''] = /^([^#]*)(#.*)?$/.exec(address) ?? [];
  const target = targetOf(path || '/');
  if (whole && site) return site + target + rest;
  const up = '../'.repeat(file.split('/').length - 1);
  return (up + target || './') + rest;
}

/**
 * A page with every address of the site in it made anew for the file it goes into. Whole addresses of the site itself
 * become those of where it will be; where that is not known, what needs one is taken out.
 */
export function relinkPage(html: string, how: Relinking): string {
  const page = html.replace(TAG, (tag) => {
    if (!LEADS.test(tag)) return tag;
    const isMeta = /^<meta\b/i.test(tag);
    const isCanonical = /^<link rel="canonical"/i.test(tag);
    // Cards of pages elsewhere need whole addresses (ogp.me).
    if (!how.site && (isCanonical || (isMeta && (tag.includes(FILE_ORIGIN) || tag.includes('property="og:')))))
      return '';
    return tag.replace(ATTRIBUTE, (all, name: string, value: string) => {
      if (name === 'content' && !isMeta) return all;
      if (name === 'srcset')
        return ` srcset="${value
          .split(', ')
          .map((one) => {
            const [url = '', size = ''] = one.split(' ');
            return `${url.startsWith('/') ? amp(relink(unamp(url), how)) : url}${size && ` ${size}`}`;
          })
          .join(', ')}"`;
      return ` ${name}="${relinked(value, how)}"`;
    });
  });
  // The page's data for programs: JSON, in which addresses stand as they are.
  return page
    .replace(
      /(<script type="application\/ld\+json">)([^<]*)/g,
      (_, open: string, json: string) => open + relinkJson(json, how),
    )
    .replace(/^\n/gm, '');
}

function relinked(value: string, how: Relinking): string {
  if (value.startsWith(FILE_ORIGIN)) {
    const address = unamp(value.slice(FILE_ORIGIN.length)) || '/';
    return amp(relink(address, { ...how, whole: true }));
  }
  if (value.startsWith('?')) return value;
  return /^\/(?!\/)/.test(value) ? amp(relink(unamp(value), how)) : value;
}

/** The same for addresses that stand in JSON or XML as whole ones. */
export function relinkJson(text: string, how: Relinking): string {
  const whole = new RegExp(`${FILE_ORIGIN.replaceAll('.', '\\.')}([^"<\\s]*)`, 'g');
  return text.replace(whole, (_, address: string) =>
    amp(relink(unamp(address) || '/', { ...how, whole: true })).replaceAll(
      '&amp;',
      text.startsWith('<') ? '&amp;' : '&',
    ),
  );
}
