import { createHash, randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';
import { localDay, startOfDay } from '../../core/base/write';
import { DRAFT_COOKIE } from '../access';
import { log } from '../log';
import { cacheRule } from './send';
import { follow, followed, followedKnown, isWrittenSince } from '../queries/following';
import { keysOf, type Reads } from '../queries/reads';

/**
 * Pages as visitors got them, answered again without being drawn until anything that they are made from is written, or
 * another day begins where the site is: rules and formats ask for the day, and for nothing shorter.
 */
interface KeptPage {
  /** What it was made from beside the design; see `queries/reads.ts`. */
  keys: ReadonlySet<string>;
  /** From when until when it holds, in milliseconds since 1970. */
  from: number;
  until: number;
  headers: Record<string, string>;
  /** Without quotes; what is packed has an ending of its own (RFC 9110, 8.8.3.3). */
  etag: string;
  plain: Buffer;
  packed?: { gzip: Buffer; br: Buffer } | 'soon';
}

/** Bytes of all that is kept. */
const most = (): number => Number(process.env.PLUM_KEPT_PAGES ?? 64) * 1_000_000;
/** So long after a day began it is the next one, however clocks are changed, in milliseconds. */
const DAY_AND_HALF = 36 * 3_600_000;
/** About what a key takes, with the name under it. */
const BYTES_OF_KEY = 150;
/** An address that is longer is drawn each time. */
const LONGEST = 600;

const kept = new Map<string, KeptPage>();
/** The names of pages by what they are made from. */
const madeFrom = new Map<string, Set<string>>();
let bytes = 0;
const sizeOf = ({ plain, packed, keys }: KeptPage): number =>
  plain.length +
  keys.size * BYTES_OF_KEY +
  (packed && packed !== 'soon' ? packed.gzip.length + packed.br.length : 0) +
  1000;

/** Everything a page's addresses are made from stands in its name. */
const nameOf = (header: (name: string) => string | null | undefined, address: string): string =>
  ['host', 'x-forwarded-host', 'x-forwarded-proto'].map((name) => header(name) ?? '').join('\n') + `\n${address}`;

/** The ETag of a page, without quotes. */
export const etagOf = (html: string): string => createHash('sha256').update(html).digest('base64url').slice(0, 22);

function drop(name: string): void {
  const page = kept.get(name);
  if (!page) return;
  kept.delete(name);
  bytes -= sizeOf(page);
  for (const key of page.keys) {
    const names = madeFrom.get(key);
    names?.delete(name);
    if (!names?.size) madeFrom.delete(key);
  }
}

follow((went) => {
  if (went === 'everything') return forgetPages();
  for (const key of keysOf(went)) for (const name of madeFrom.get(key) ?? []) drop(name);
});

/** Keeps a page that was begun at `version`, for whoever asks for it next, unless something of it was written since. */
export function keepPage(
  request: Request,
  {
    version,
    html,
    headers,
    timeZone,
    reads,
  }: { version: string; html: string; headers: Record<string, string>; timeZone: string; reads: Reads },
): void {
  const url = new URL(request.url);
  const address = url.pathname + url.search;
  const keys = reads.all();
  if (address.length > LONGEST || request.method !== 'GET' || isWrittenSince(version, keys)) return;
  const name = nameOf((header) => request.headers.get(header), address);
  drop(name);
  const start = startOfDay(localDay(new Date(), timeZone), timeZone).getTime();
  const page: KeptPage = {
    ...{ keys, headers, etag: etagOf(html), plain: Buffer.from(html) },
    from: start,
    until: startOfDay(localDay(new Date(start + DAY_AND_HALF), timeZone), timeZone).getTime(),
  };
  kept.set(name, page);
  for (const key of keys) {
    const names = madeFrom.get(key);
    if (names) names.add(name);
    else madeFrom.set(key, new Set([name]));
  }
  bytes += sizeOf(page);
  for (const oldest of kept.keys()) {
    if (bytes <= most()) break;
    drop(oldest);
  }
}

const packGzip = promisify(gzip);
const packBrotli = promisify(brotliCompress);

/** Packs a page that is asked for again, in the background. */
async function pack(name: string, page: KeptPage): Promise<void> {
  page.packed = 'soon';
  const [small, smaller] = await Promise.all([
    packGzip(page.plain, { level: 6 }),
    packBrotli(page.plain, { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } }),
  ]);
  if (kept.get(name) !== page) return;
  bytes -= sizeOf(page);
  page.packed = { gzip: small, br: smaller };
  bytes += sizeOf(page);
}

/** Which packing whoever asks takes: the first of ours that is not refused (RFC 9110, 12.5.3). */
function takes(accept: string | undefined, coding: 'br' | 'gzip'): boolean {
  const own = new RegExp(`(?:^|,)\\s*${coding}\\s*(?:;\\s*q=([\\d.]+)\\s*)?(?:,|$)`).exec(accept?.slice(0, 500) ?? '');
  return Boolean(own) && Number(own?.[1] ?? 1) > 0;
}

/** Whether an If-None-Match names a page, however it was packed. */
const names = (given: string, etag: string): boolean =>
  given.split(',').some((one) => {
    const tag = one.trim().replace(/^W\//, '');
    return tag === '*' || tag === `"${etag}"` || tag === `"${etag}-gzip"` || tag === `"${etag}-br"`;
  });

function send(request: IncomingMessage, response: ServerResponse, name: string, page: KeptPage): void {
  const from = performance.now();
  // The one asked for last goes last.
  kept.delete(name);
  kept.set(name, page);
  if (!page.packed) void pack(name, page);
  const requestId = randomUUID();
  const { packed } = page;
  const coding =
    packed && packed !== 'soon'
      ? (['br', 'gzip'] as const).find((one) => takes(request.headers['accept-encoding'], one))
      : undefined;
  const body = coding && packed && packed !== 'soon' ? packed[coding] : page.plain;
  const headers: Record<string, string | number> = {
    ...page.headers,
    etag: `"${page.etag}${coding ? `-${coding}` : ''}"`,
    'cache-control': cacheRule(),
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'same-origin',
    'x-request-id': requestId,
  };
  const known = request.headers['if-none-match'];
  const status = known && names(known, page.etag) ? 304 : 200;
  if (status === 200) {
    if (coding) headers['content-encoding'] = coding;
    headers['content-length'] = body.length;
  }
  response.writeHead(status, headers);
  response.end(status === 200 && request.method !== 'HEAD' ? body : undefined);
  if (log.isLevelEnabled('info'))
    log.info(
      {
        ...{ requestId, method: request.method, path: request.url?.split('?')[0], status },
        ms: Math.round(performance.now() - from),
      },
      'answered',
    );
}

/**
 * Answers a request from what is kept. False where it is not, or no longer right; the application answers then. Only who
 * sees the draft has a cookie that makes a page another.
 */
export function answerKept(request: IncomingMessage, response: ServerResponse): boolean | Promise<boolean> {
  const { method, url, headers } = request;
  if ((method !== 'GET' && method !== 'HEAD') || !url || url.length > LONGEST) return false;
  const name = nameOf((header) => headers[header] as string | undefined, url);
  if (!kept.has(name) || headers.cookie?.includes(DRAFT_COOKIE)) return false;
  /** Once everything that was written has taken the pages that were made from it. */
  const answer = (): boolean => {
    const page = kept.get(name);
    const now = Date.now();
    if (page && (now < page.from || now >= page.until)) drop(name);
    else if (page) send(request, response, name, page);
    return kept.has(name);
  };
  return followedKnown() === undefined ? followed().then(answer, () => false) : answer();
}

/** Forgets everything that is kept. */
export function forgetPages(): void {
  kept.clear();
  madeFrom.clear();
  bytes = 0;
}
