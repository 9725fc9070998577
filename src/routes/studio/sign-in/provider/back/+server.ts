import { error, redirect } from '@sveltejs/kit';
import { comeIn, fromOf, takeStep } from '$lib/server/people/coming-in';
import { providerAnswered } from '$lib/server/people/provider';
import { letIn } from '$lib/server/people/sign-in';
import { Refusal } from '$lib/server/refusal';
import type { RequestHandler } from './$types';

/** Where the identity provider sends the browser back to. */
export const GET: RequestHandler = async (event) => {
  const { account, to } = await providerAnswered(takeStep(event.cookies), event.url).catch((failure: unknown) => {
    if (failure instanceof Refusal) error(failure.status, failure.title);
    throw failure;
  });
  await comeIn(event, await letIn(account, 'the identity provider', fromOf(event)));
  redirect(303, to.startsWith('/studio') ? to : '/studio');
};
