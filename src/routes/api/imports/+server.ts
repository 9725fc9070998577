import { fileName, pieces, respond, bodyOf } from '$lib/server/api';
import { receiveFile, startImport } from '$lib/server/exchange/importing';
import type { RequestHandler } from './$types';

/** Takes a file to be imported, as the body of the request. */
export const PUT: RequestHandler = ({ request, url }) =>
  respond(async () => receiveFile(fileName(url, 'file'), pieces(request)), 201);

/** Begins an import of a file taken before, or the dry run of one; gives the job to ask after. */
export const POST: RequestHandler = ({ request }) => respond(async () => startImport(await bodyOf(request)), 202);
