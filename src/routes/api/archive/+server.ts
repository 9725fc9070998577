import { download, fileName, pieces, respond } from '$lib/server/api';
import { readArchive, writeArchive } from '$lib/server/exchange/archive';
import { forgetFile, receivedFile, receiveFile } from '$lib/server/exchange/importing';
import { startJob } from '$lib/server/exchange/jobs';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () =>
  download(`plum-thread-${new Date().toISOString().slice(0, 10)}.zip`, 'application/zip', writeArchive());

/** Takes an archive as the body of the request, and begins to fill the empty database from it. */
export const POST: RequestHandler = ({ request, url }) =>
  respond(async () => {
    const { id } = await receiveFile(fileName(url, 'archive.zip'), pieces(request));
    return startJob((progress) => readArchive(receivedFile(id).path, progress).finally(() => forgetFile(id)));
  }, 202);
