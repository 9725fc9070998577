import { bodyOf, respond } from '$lib/server/api';
import { generateRecords, removeGenerated } from '$lib/server/services/generate';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => generateRecords(params.id, await bodyOf(request)), 201);

export const DELETE: RequestHandler = ({ params }) => respond(() => removeGenerated(params.id));
