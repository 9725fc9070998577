import type { IncomingMessage, ServerResponse } from 'node:http';
import { promisify } from 'node:util';
import { LRUCache } from 'lru-cache';
import { brotliCompress, constants, gzip } from 'node:zlib';
import { localDay, startOfDay } from '../../core/base/write';
import { DRAFT_COOKIE } from '../services/shares';
import { addressOfDependencies, noteDependencies, partsOf } from './page-dependencies';
import { cacheRule } from './send';
import { sendResponse, type PageRequest } from './http-response';
import { follow, followed, followedKnown, isWrittenSince } from '../queries/following';
import { keysOf, type Reads } from '../queries/reads';
import { perServer } from '../base/server';

/**
 * Pages as visitors got them, answered again without being drawn until anything that they are made from is written, or
 * another day begins where the site is: rules and formats ask for the day, and for nothing shorter.
 */
interface CachedPage {
  /** What it was made from beside the design; see `queries/reads.ts`. */
  keys: ReadonlySet<string>;
  /** From when until when it holds, in milliseconds since 1970. */
  from: number;
  until: number;
  headers: Record<string, string>;
  /** Without quotes; what is packed has an ending of its own (RFC 9110, 8.8.3.3). */
  etag: string;
  /** As text until somebody asks for it again. */
  plain: string | Buffer;
  /** In bytes. */
  length: number;
  packed?: { gzip: Buffer; br: Buffer } | 'soon';
}

/** So long after a day began it is the next one, however clocks are changed, in milliseconds. */
const DAY_AND_HALF = 36 * 3_600_000;
/** About what a key takes, with the name under it. */
const BYTES_OF_KEY = 150;
/** An address that is longer is drawn each time. */
const LONGEST = 600;

const sizeOf = ({ length, packed, keys }: CachedPage): number =>
  length + keys.size * BYTES_OF_KEY + (packed && packed !== 'soon' ? packed.gzip.length + packed.br.length : 0) + 1000;

/** Everything a page's addresses are made from stands in its name. */
const nameOf = (header: (name: string) => string | null | undefined, address: string): string =>
  ['host', 'x-forwarded-host', 'x-forwarded-proto'].map((name) => header(name) ?? '').join('\n') + `\n${address}`;

interface PageCache {
  pages: LRUCache<string, CachedPage>;
  /** The names of pages by what they are made from. */
  namesByKey: Map<string, Set<string>>;
  /** The day asked for last, in milliseconds since 1970: pages of a site have one, and it is asked for each of them. */
  lastDay: Day;
}
interface Day {
  timeZone: string;
  from: number;
  until: number;
}

const pageCache = perServer(({ pageCacheBytes }): PageCache => {
  const namesByKey = new Map<string, Set<string>>();
  const pages = new LRUCache<string, CachedPage>({
    // Of one byte no page is.
    maxSize: Math.max(pageCacheBytes, 1),
    sizeCalculation: sizeOf,
    // A page that is put in its own place, packed, is made from the same.
    noDisposeOnSet: true,
    dispose({ keys }, name) {
      for (const key of keys) {
        const names = namesByKey.get(key);
        names?.delete(name);
        if (!names?.size) namesByKey.delete(key);
      }
    },
  });
  follow((went) => {
    if (went === 'everything') return pages.clear();
    for (const key of keysOf(went)) for (const name of namesByKey.get(key) ?? []) pages.delete(name);
  });
  return { pages, namesByKey, lastDay: { timeZone: '', from: 0, until: 0 } };
});

/** The day that an instant lies in. */
function dayAt(cache: PageCache, now: number, timeZone: string): Day {
  const { lastDay } = cache;
  if (lastDay.timeZone === timeZone && now >= lastDay.from && now < lastDay.until) return lastDay;
  const from = startOfDay(localDay(new Date(now), timeZone), timeZone).getTime();
  const until = startOfDay(localDay(new Date(from + DAY_AND_HALF), timeZone), timeZone).getTime();
  return (cache.lastDay = { timeZone, from, until });
}

/** A page that was drawn, for whoever asks for it next. */
export interface CacheablePage {
  /** What state the content was in when it was begun. */
  version: string;
  html: string;
  /** Without quotes. */
  etag: string;
  headers: Record<string, string>;
  /** IANA name. */
  timeZone: string;
  reads: Reads;
  /** The names in questions that it listens to. */
  hears: ReadonlySet<string>;
}

/** Keeps a page, with what was asked, unless something of it was written since it was begun. */
export function cachePage(
  { header, address }: Pick<PageRequest, 'header' | 'address'>,
  { version, html, etag, headers, timeZone, reads, hears }: CacheablePage,
): void {
  const keys = reads.all();
  if (address.length > LONGEST || isWrittenSince(version, keys)) return;
  // With the page itself, so that no address is taken for another by what its path listened to before something was written.
  noteDependencies(partsOf(address).path, hears);
  const name = nameOf(header, addressOfDependencies(address));
  const cache = pageCache();
  const { pages, namesByKey } = cache;
  const { from, until } = dayAt(cache, Date.now(), timeZone);
  const page: CachedPage = { keys, headers, etag, plain: html, length: Buffer.byteLength(html), from, until };
  pages.delete(name);
  pages.set(name, page);
  // One that is larger than all may be is not kept.
  if (!pages.has(name)) return;
  for (const key of keys) {
    const names = namesByKey.get(key);
    if (names) names.add(name);
    else namesByKey.set(key, new Set([name]));
  }
}

const packGzip = promisify(gzip);
const packBrotli = promisify(brotliCompress);

/** Packs a page that is asked for again, in the background. */
async function pack(name: string, page: CachedPage): Promise<void> {
  page.packed = 'soon';
  const [small, smaller] = await Promise.all([
    packGzip(page.plain, { level: 6 }),
    packBrotli(page.plain, { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } }),
  ]);
  const { pages } = pageCache();
  if (pages.peek(name) !== page) return;
  pages.set(name, { ...page, packed: { gzip: small, br: smaller } });
}

/** Which packing whoever asks takes: the first of ours that is not refused (RFC 9110, 12.5.3). */
export function acceptsCoding(accept: string | undefined, coding: 'br' | 'gzip'): boolean {
  const own = new RegExp(`(?:^|,)\\s*${coding}\\s*(?:;\\s*q=([\\d.]+)\\s*)?(?:,|$)`).exec(accept?.slice(0, 500) ?? '');
  return Boolean(own) && Number(own?.[1] ?? 1) > 0;
}

/** Whether an If-None-Match names a page, however it was packed. */
const names = (given: string, etag: string): boolean =>
  given.split(',').some((one) => {
    const tag = one.trim().replace(/^W\//, '');
    return tag === '*' || tag === `"${etag}"` || tag === `"${etag}-gzip"` || tag === `"${etag}-br"`;
  });

function send(request: IncomingMessage, response: ServerResponse, name: string, page: CachedPage): void {
  const from = performance.now();
  if (!page.packed) void pack(name, page);
  if (typeof page.plain === 'string') page.plain = Buffer.from(page.plain);
  const { packed } = page;
  const coding =
    packed && packed !== 'soon'
      ? (['br', 'gzip'] as const).find((one) => acceptsCoding(request.headers['accept-encoding'], one))
      : undefined;
  const headers = {
    ...page.headers,
    etag: `"${page.etag}${coding ? `-${coding}` : ''}"`,
    'cache-control': cacheRule(),
  };
  const known = request.headers['if-none-match'];
  if (known && names(known, page.etag)) return sendResponse(request, response, { status: 304, headers }, from);
  sendResponse(
    request,
    response,
    coding && packed && packed !== 'soon'
      ? { status: 200, headers: { ...headers, 'content-encoding': coding }, body: packed[coding] }
      : { status: 200, headers, body: page.plain },
    from,
  );
}

/**
 * Answers a request from what is kept. False where it is not, or no longer right; the application answers then. Only who
 * sees the draft has a cookie that makes a page another.
 */
export function answerFromCache(request: IncomingMessage, response: ServerResponse): boolean | Promise<boolean> {
  const { method, url, headers } = request;
  if ((method !== 'GET' && method !== 'HEAD') || !url || url.length > LONGEST) return false;
  const { pages } = pageCache();
  const name = nameOf((header) => headers[header] as string | undefined, addressOfDependencies(url));
  if (!pages.has(name) || headers.cookie?.includes(DRAFT_COOKIE)) return false;
  /** Once everything that was written has taken the pages that were made from it. */
  const answer = (): boolean => {
    const page = pages.get(name);
    const now = Date.now();
    if (page && (now < page.from || now >= page.until)) pages.delete(name);
    else if (page) send(request, response, name, page);
    return pages.has(name);
  };
  return followedKnown() === undefined ? followed().then(answer, () => false) : answer();
}

/** Forgets everything that is kept. */
export const clearPages = (): void => pageCache().pages.clear();
