import { bodyOf, respond } from '$lib/server/api';
import { readTheme, saveTheme } from '$lib/server/services/theme';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(readTheme);

export const PUT: RequestHandler = ({ request }) =>
  respond(async () => saveTheme((await bodyOf(request)) as { theme?: unknown; version?: unknown }));
