import { bodyOf, respond } from '$lib/server/api';
import { saveTaxonomy, termCounts } from '$lib/server/services/taxonomies';
import { readModel } from '$lib/server/services/model';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () =>
  respond(async () => {
    const { taxonomies, terms } = await readModel();
    return { taxonomies, terms, counts: await termCounts() };
  });

/** Creates a taxonomy, or brings the one with this id to the given state. */
export const POST: RequestHandler = ({ request }) => respond(async () => saveTaxonomy(await bodyOf(request)), 201);
