import { attachment, fileResponse, numberOf, respond } from '$lib/server/api/http';
import { mediaCaching } from '$lib/server/access/media-access';
import { readOriginal } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

/** A file to be taken home; never shown in the browser, whatever it is. */
export const GET: RequestHandler = (event) =>
  respond(async () => {
    const id = numberOf(event.params.id);
    const caching = await mediaCaching(id, event);
    const { content, mime, size, name } = await readOriginal(id);
    return fileResponse(event.request, content, {
      'content-type': mime,
      'content-length': String(size),
      'content-disposition': attachment(name),
      'content-security-policy': "default-src 'none'; sandbox",
      ...caching,
    });
  });
