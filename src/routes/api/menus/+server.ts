import { bodyOf, respond } from '$lib/server/api';
import { saveMenu } from '$lib/server/services/menus';
import { readModel } from '$lib/server/services/model';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(async () => (await readModel()).menus);

export const POST: RequestHandler = ({ request }) => respond(async () => saveMenu(await bodyOf(request)), 201);
