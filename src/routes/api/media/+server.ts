import { respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { addPicture, readAllMedia } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

/** Bytes; the server's own limit of a request stands a little above. */
const MOST = 7_500_000;

export const GET: RequestHandler = () => respond(readAllMedia);

/** Takes one picture as the body of the request; its name and alternative text stand in the address. */
export const POST: RequestHandler = ({ request, url }) =>
  respond(async () => {
    const name = (url.searchParams.get('name') ?? '').replace(/[/\\]/g, ' ').trim().slice(0, 200) || 'picture';
    const bytes = Buffer.from(await request.arrayBuffer());
    if (!bytes.length) throw new Refusal(422, 'The file is empty.');
    if (bytes.length > MOST) throw new Refusal(413, 'A picture takes 7.5 MB at most.');
    return addPicture(name, bytes, (url.searchParams.get('alt') ?? '').slice(0, 500));
  }, 201);
