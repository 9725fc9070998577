import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { attachment, problemResponse } from '$lib/server/api';
import { EXPORTS } from '$lib/server/site/export';
import type { RequestHandler } from './$types';

/** Sends a zip of the site that was written before. */
export const GET: RequestHandler = async ({ params }) => {
  const gone = () => problemResponse(404, 'This zip is not there any more. Export the site again.');
  if (!/^[A-Za-z0-9_-]{1,60}\.zip$/.test(params.file)) return gone();
  const path = join(tmpdir(), EXPORTS, params.file);
  const known = await stat(path).catch(() => undefined);
  if (!known) return gone();
  return new Response(Readable.toWeb(createReadStream(path)) as ReadableStream, {
    headers: {
      'content-type': 'application/zip',
      'content-length': String(known.size),
      'content-disposition': attachment(`site-${new Date().toISOString().slice(0, 10)}.zip`),
    },
  });
};
