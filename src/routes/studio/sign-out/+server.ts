import { redirect } from '@sveltejs/kit';
import { dropSession, sessionSecret } from '$lib/server/people/session-cookie';
import { endSessionWith } from '$lib/server/people/sessions';
import type { RequestHandler } from './$types';

/** Ends the session of this browser. */
export const POST: RequestHandler = async ({ cookies, url }) => {
  await endSessionWith(sessionSecret(cookies, url));
  dropSession(cookies, url);
  redirect(303, '/studio/sign-in');
};
