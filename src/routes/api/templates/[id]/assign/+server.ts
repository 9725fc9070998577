import { bodyOf, respond } from '$lib/server/api';
import { assignRecords } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => assignRecords(params.id, await bodyOf(request)));
