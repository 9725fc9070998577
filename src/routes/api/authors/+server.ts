import { bodyOf, respond } from '$lib/server/api';
import { saveAuthor } from '$lib/server/services/authors';
import { readModel } from '$lib/server/services/model';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(async () => (await readModel()).authors);

/** Creates an author, or brings the one with this number to the given state. */
export const POST: RequestHandler = ({ request }) => respond(async () => saveAuthor(await bodyOf(request)), 201);
