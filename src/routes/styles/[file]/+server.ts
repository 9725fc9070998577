import { error } from '@sveltejs/kit';
import { styleSheet } from '$lib/server/site/draw';
import type { RequestHandler } from './$types';

/** The theme's variables, or the looks of one template's elements. Addresses change with what is in them. */
export const GET: RequestHandler = async ({ params }) => {
  const sheet = await styleSheet(params.file);
  if (!sheet) error(404);
  return new Response(sheet.css, {
    headers: {
      'content-type': 'text/css; charset=utf-8',
      'cache-control': sheet.current ? 'public, max-age=31536000, immutable' : 'no-cache',
    },
  });
};
