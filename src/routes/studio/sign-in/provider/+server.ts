import { error, redirect } from '@sveltejs/kit';
import { fromOf, keepStep } from '$lib/server/people/coming-in';
import { askProvider } from '$lib/server/people/provider';
import { throttle } from '$lib/server/people/throttle';
import { Refusal } from '$lib/server/base/refusal';
import { pathWithin } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

/** Leads to the identity provider: to come in, or, for somebody who is signed in and proved it lately, to join their account to it. */
export const GET: RequestHandler = async (event) => {
  const { url, cookies, locals } = event;
  const joining = url.searchParams.has('join');
  if (joining && !locals.who?.fresh) error(403, 'Sign in once more before you join your account to the provider.');
  const to = pathWithin(url.searchParams.get('to') ?? '/studio', url.origin);
  const begin = async () => {
    await throttle('begin', fromOf(event).address);
    return askProvider(`${url.origin}/studio/sign-in/provider/back`, to, joining ? locals.who?.id : undefined);
  };
  const beginning = await begin().catch((failure: unknown) => {
    if (failure instanceof Refusal) error(failure.status, failure.title);
    throw failure;
  });
  keepStep(cookies, url, beginning.pass);
  redirect(303, beginning.address);
};
