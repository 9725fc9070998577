import { respond } from '$lib/server/api';
import { workbenchRecords } from '$lib/server/services/lists';
import { readAllMedia } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

/** The records and pictures that the workbench draws with, as they stand now. */
export const GET: RequestHandler = () =>
  respond(async () => {
    const [{ records }, media] = await Promise.all([workbenchRecords(), readAllMedia()]);
    return { records, media };
  });
