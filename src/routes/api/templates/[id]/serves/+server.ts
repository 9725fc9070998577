import { bodyOf, respond } from '$lib/server/api';
import { saveServing } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => saveServing(params.id, await bodyOf(request)));
