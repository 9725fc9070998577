import { bodyOf, respond } from '$lib/server/api';
import { viewFile } from '$lib/server/exchange/importing';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = ({ request }) => respond(async () => viewFile(await bodyOf(request)));
