import { error, redirect } from '@sveltejs/kit';
import { keepStep } from '$lib/server/people/coming-in';
import { askProvider } from '$lib/server/people/provider';
import { Refusal } from '$lib/server/refusal';
import { pathWithin } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

/** Leads to the identity provider. */
export const GET: RequestHandler = async ({ url, cookies }) => {
  const to = pathWithin(url.searchParams.get('to') ?? '/studio', url.origin);
  const asked = await askProvider(`${url.origin}/studio/sign-in/provider/back`, to).catch((failure: unknown) => {
    if (failure instanceof Refusal) error(failure.status, failure.title);
    throw failure;
  });
  keepStep(cookies, url, asked.pass);
  redirect(303, asked.address);
};
