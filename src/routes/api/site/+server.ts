import { bodyOf, respond } from '$lib/server/api';
import { saveSite } from '$lib/server/services/model';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = ({ request }) => respond(async () => saveSite(await bodyOf(request)));
