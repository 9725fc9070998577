import { bodyOf, respond } from '$lib/server/api';
import { readShares, shareDraft } from '$lib/server/services/shares';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(readShares);

export const POST: RequestHandler = ({ request }) => respond(async () => shareDraft(await bodyOf(request)), 201);
