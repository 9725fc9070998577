import { bodyOf, respond } from '$lib/server/api';
import { moveTerm } from '$lib/server/services/taxonomies';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => moveTerm(params.id, await bodyOf(request)));
