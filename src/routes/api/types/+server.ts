import { bodyOf, respond } from '$lib/server/api';
import { readModel, saveContentType } from '$lib/server/services/model';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(async () => (await readModel()).types);

export const POST: RequestHandler = ({ request }) => respond(async () => saveContentType(await bodyOf(request)), 201);
