import { respond } from '$lib/server/api';
import { workbenchRecords } from '$lib/server/services/lists';
import { readAllMedia } from '$lib/server/services/media';
import { plainModel } from '$lib/server/services/model';
import { readTheme } from '$lib/server/services/theme';
import type { RequestHandler } from './$types';

/** The records and pictures that the workbench draws with, as they stand now; `?whole` with everything but a template. */
export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const [{ records, partial }, media] = await Promise.all([workbenchRecords(), readAllMedia()]);
    if (!url.searchParams.has('whole')) return { records, media };
    const [model, { theme }] = await Promise.all([plainModel(), readTheme()]);
    return { model, records, partial, media, theme };
  });
