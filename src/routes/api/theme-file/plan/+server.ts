import { bodyOf, respond } from '$lib/server/api';
import { planTheme } from '$lib/server/exchange/theme-file';
import type { RequestHandler } from './$types';

/** What a theme's file holds, and what would be done with it. Nothing is written. */
export const POST: RequestHandler = ({ request }) => respond(async () => planTheme(await bodyOf(request)));
