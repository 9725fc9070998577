import { databaseAnswers } from '$lib/server/queries/site';
import type { RequestHandler } from './$types';

/** Whether the application can do its work: for whoever watches it. */
export const GET: RequestHandler = async () => {
  const well = await databaseAnswers();
  return new Response(JSON.stringify({ status: well ? 'well' : 'the database does not answer' }), {
    status: well ? 200 : 503,
    headers: {
      'content-type': 'application/json',
      'cache-control': 'no-store',
      ...(well ? {} : { 'retry-after': '5' }),
    },
  });
};
