import { respond } from '$lib/server/api';
import { startJob } from '$lib/server/exchange/jobs';
import { affectedPages } from '$lib/server/site/affected';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

/** Begins to find the pages that a release would change. */
export const POST: RequestHandler = () =>
  respond(async () => Promise.resolve(startJob((progress) => affectedPages(progress, base))), 202);
