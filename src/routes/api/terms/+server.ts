import { bodyOf, respond } from '$lib/server/api';
import { saveTerm } from '$lib/server/services/taxonomies';
import type { RequestHandler } from './$types';

/** Creates a term, or brings the one with this id to the given state. */
export const POST: RequestHandler = ({ request }) => respond(async () => saveTerm(await bodyOf(request)), 201);
