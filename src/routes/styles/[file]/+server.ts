import { error } from '@sveltejs/kit';
import { styleSheet } from '$lib/server/site/design';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

/** The one style sheet of a release. Addresses change with what is in them. */
export const GET: RequestHandler = async ({ params }) => {
  const sheet = await styleSheet(params.file, base);
  if (!sheet) error(404);
  return new Response(sheet.css, {
    headers: {
      'content-type': 'text/css; charset=utf-8',
      'cache-control': sheet.current ? 'public, max-age=31536000, immutable' : 'no-cache',
    },
  });
};
