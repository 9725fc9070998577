import { readiness } from '$lib/server/site/readiness';
import type { RequestHandler } from './$types';

/** Whether everything is there that visitors are answered with: for whoever sends requests only to processes that are ready. */
export const GET: RequestHandler = async () => {
  const { ready, lacks } = await readiness();
  return new Response(JSON.stringify({ status: ready ? 'ready' : 'not ready', lacks }), {
    status: ready ? 200 : 503,
    headers: {
      'content-type': 'application/json',
      'cache-control': 'no-store',
      ...(ready ? {} : { 'retry-after': '2' }),
    },
  });
};
