import { fileResponse, numberOf, respond } from '$lib/server/api/http';
import { mediaCaching } from '$lib/server/access/media-access';
import { notFound } from '$lib/server/base/refusal';
import { readOriginal, readRendition } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

const HEADERS = {
  // Drawings have paint of their own, and nothing else.
  'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; sandbox",
};

/** A picture as it was fileResponse (`original`), or one of its renditions (`640.webp`, `640.jpeg`). */
export const GET: RequestHandler = (event) =>
  respond(async () => {
    const { params } = event;
    const id = numberOf(params.id);
    const caching = await mediaCaching(id, event);
    const rendition = /^(\d{2,4})\.([a-z]{3,4})$/.exec(params.file);
    if (rendition) {
      const { bytes, mime } = await readRendition(id, Number(rendition[1]), rendition[2] as string);
      return new Response(new Uint8Array(bytes), {
        headers: { 'content-type': mime, ...HEADERS, ...caching },
      });
    }
    if (params.file !== 'original') throw notFound('file of this name');
    const { content, mime, size } = await readOriginal(id);
    if (!mime.startsWith('image/')) {
      content.destroy();
      throw notFound('picture with this number; files are taken home by their name');
    }
    return fileResponse(event.request, content, {
      'content-type': mime,
      'content-length': String(size),
      ...HEADERS,
      ...caching,
    });
  });
