import { bodyOf, respond } from '$lib/server/api';
import { orderTemplates } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = ({ request }) => respond(async () => orderTemplates(await bodyOf(request)));
