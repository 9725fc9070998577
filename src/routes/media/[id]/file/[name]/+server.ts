import { Readable } from 'node:stream';
import { attachment, numberOf, respond } from '$lib/server/api/http';
import { readOriginal } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

/** A file to be taken home; never shown in the browser, whatever it is. */
export const GET: RequestHandler = ({ params }) =>
  respond(async () => {
    const { content, mime, size, name } = await readOriginal(numberOf(params.id));
    return new Response(Readable.toWeb(content as Readable) as ReadableStream, {
      headers: {
        'content-type': mime,
        'content-length': String(size),
        'content-disposition': attachment(name),
        'content-security-policy': "default-src 'none'; sandbox",
      },
    });
  });
