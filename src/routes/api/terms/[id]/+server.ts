import { bodyOf, respond } from '$lib/server/api';
import { deleteTerm } from '$lib/server/services/taxonomies';
import type { RequestHandler } from './$types';

/** Deletes a term; `records` in the body says to which term its records go. */
export const DELETE: RequestHandler = ({ params, request }) =>
  respond(async () => deleteTerm(params.id, await bodyOf(request)));
