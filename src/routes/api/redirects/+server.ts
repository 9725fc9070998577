import { bodyOf, respond } from '$lib/server/api';
import { addRedirects, deleteRedirect, readRedirects } from '$lib/server/services/redirects';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ url }) => respond(() => readRedirects(url.searchParams.get('search') ?? ''));

export const POST: RequestHandler = ({ request }) => respond(async () => addRedirects(await bodyOf(request)), 201);

export const DELETE: RequestHandler = ({ url }) => respond(() => deleteRedirect(url.searchParams.get('path') ?? ''));
