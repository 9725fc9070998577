import { respond } from '$lib/server/api';
import { moreRecords } from '$lib/server/services/lists';
import type { RequestHandler } from './$types';

/** Records of a type after a number, a part at a time, for work over all of them. */
export const GET: RequestHandler = ({ url }) =>
  respond(async () => ({
    records: await moreRecords(url.searchParams.get('type') ?? '', Number(url.searchParams.get('after')) || 0),
  }));
