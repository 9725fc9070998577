import { download, respond } from '$lib/server/api';
import { exportType } from '$lib/server/exchange/exporting';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, url }) => {
  let sent: Response | undefined;
  const refused = await respond(async () => {
    const { name, mime, content } = await exportType(params.id, url.searchParams.get('format') ?? 'csv');
    sent = download(name, mime, content);
  });
  return sent ?? refused;
};
