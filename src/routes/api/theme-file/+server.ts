import { attachment, bodyOf, respond } from '$lib/server/api';
import { exportTheme, takeTheme } from '$lib/server/exchange/theme-file';
import { slugOf } from '$lib/core/base/text';
import type { RequestHandler } from './$types';

/** The theme as a file to be taken home. */
export const GET: RequestHandler = async () => {
  const file = await exportTheme();
  return new Response(`${JSON.stringify(file, null, 1)}\n`, {
    headers: {
      'content-type': 'application/json',
      'content-disposition': attachment(`theme-${slugOf(file.name) || 'site'}.json`),
    },
  });
};

/** Takes a theme in, by a mapping. */
export const POST: RequestHandler = ({ request }) =>
  respond(async () => takeTheme((await bodyOf(request)) as { file?: unknown; mapping?: unknown }));
