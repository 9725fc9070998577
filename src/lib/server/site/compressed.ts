import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import { acceptsCoding } from './page-cache';
import { perServer } from '../base/server';

/** Texts that are worth it. Pages are compressed as they are kept (`page-cache.ts`); pictures and typefaces are compressed already. */
const TEXT = /^(text\/(css|plain|xml)|application\/(atom\+xml|feed\+json|xml|ld\+json)|image\/svg\+xml)\b/;
/** Bytes below which a header costs as much as is gained. */
const LEAST = 600;

const packers = {
  br: (text: Buffer) =>
    promisify(brotliCompress)(text, {
      params: { [constants.BROTLI_PARAM_QUALITY]: 9, [constants.BROTLI_PARAM_SIZE_HINT]: text.length },
    }),
  gzip: (text: Buffer) => promisify(gzip)(text, { level: 9 }),
};

/** What was compressed, by the hash of its content: each content once, whatever its address. */
const compressedTexts = perServer(() => new LRUCache<string, Promise<Buffer>>({ max: 500 }));

/**
 * The same answer, compressed as whoever asks takes it (RFC 9110, 12.5.3 and 8.4): style sheets, feeds, site maps and other texts that visitors get. Answers that
 * are somebody's own are left as they are. Its ETag is weak then: what is compared is the content, and not its bytes.
 */
export async function compressText(request: Request, response: Response): Promise<Response> {
  const { headers } = response;
  if (response.status !== 200 || headers.has('content-encoding') || headers.has('set-cookie') || !response.body)
    return response;
  if (!TEXT.test(headers.get('content-type') ?? '') || /private|no-store/.test(headers.get('cache-control') ?? ''))
    return response;
  const accept = request.headers.get('accept-encoding') ?? undefined;
  const coding = (['br', 'gzip'] as const).find((one) => acceptsCoding(accept, one));
  const own = new Headers(headers);
  if (!/accept-encoding/i.test(own.get('vary') ?? '')) own.append('vary', 'accept-encoding');
  const text = Buffer.from(await response.arrayBuffer());
  if (!coding || text.length < LEAST) return new Response(text, { status: 200, headers: own });
  const key = `${coding} ${createHash('sha256').update(text).digest('base64url')}`;
  const compressed = compressedTexts();
  let packed = compressed.get(key);
  if (!packed) compressed.set(key, (packed = packers[coding](text)));
  own.set('content-encoding', coding);
  own.delete('content-length');
  const etag = own.get('etag');
  if (etag && !etag.startsWith('W/')) own.set('etag', `W/${etag}`);
  return new Response(new Uint8Array(await packed), { status: 200, headers: own });
}
