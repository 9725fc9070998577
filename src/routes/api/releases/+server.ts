import { bodyOf, respond } from '$lib/server/api';
import { pendingChanges, readReleases, release } from '$lib/server/services/releases';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () =>
  respond(async () => ({ ...(await pendingChanges()), releases: await readReleases() }));

export const POST: RequestHandler = ({ request }) => respond(async () => release(await bodyOf(request)), 201);
