import { respond } from '$lib/server/api/http';
import { notFound } from '$lib/server/base/refusal';
import { typefacePiece } from '$lib/server/services/typefaces';
import type { RequestHandler } from './$types';

/** A piece of a typeface that was brought. Addresses are made from what is in them. */
export const GET: RequestHandler = ({ params }) =>
  respond(async () => {
    const [, hash, piece] = /^([0-9a-f]{64})-(\d{1,3})\.woff2$/.exec(params.file) ?? [];
    if (!hash || !piece) throw notFound('typeface of this name');
    return new Response(new Uint8Array(await typefacePiece(hash, Number(piece))), {
      headers: { 'content-type': 'font/woff2', 'cache-control': 'public, max-age=31536000, immutable' },
    });
  });
