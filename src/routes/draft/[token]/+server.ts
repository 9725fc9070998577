import { error, redirect } from '@sveltejs/kit';
import { DRAFT_COOKIE } from '$lib/server/services/shares';
import { shareExpiry } from '$lib/server/services/shares';
import { pathWithin } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

/** Shows the draft to whoever has the link, until it expires; `/draft/end` goes back to what visitors see. */
export const GET: RequestHandler = async ({ params, url, cookies }) => {
  const address = pathWithin(url.searchParams.get('to'), url.origin);
  if (params.token === 'end') {
    cookies.delete(DRAFT_COOKIE, { path: '/' });
    redirect(303, address);
  }
  const expires = await shareExpiry(params.token);
  if (!expires) error(410, 'This link has expired, or was taken back. Ask for a new one.');
  cookies.set(DRAFT_COOKIE, params.token, {
    path: '/',
    expires,
    httpOnly: true,
    sameSite: 'lax',
    secure: url.protocol === 'https:',
  });
  redirect(303, address);
};
