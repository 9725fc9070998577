import { error, redirect } from '@sveltejs/kit';
import { afterFirst, comeIn, fromOf, takeStep } from '$lib/server/people/coming-in';
import { providerAnswered } from '$lib/server/people/provider';
import { afterFirstFactor, letIn } from '$lib/server/people/sign-in';
import { Refusal } from '$lib/server/base/refusal';
import type { RequestHandler } from './$types';

const HOW = 'the identity provider';

/** Where the identity provider sends the browser back to. */
export const GET: RequestHandler = async (event) => {
  const done = await providerAnswered(takeStep(event.cookies), event.url, event.locals.who?.id).catch(
    (failure: unknown) => {
      if (failure instanceof Refusal) error(failure.status, failure.title);
      throw failure;
    },
  );
  if ('joining' in done) redirect(303, `/studio/sign-in?joining=${encodeURIComponent(done.joining)}`);
  const { account, secondFactor } = done;
  const to = done.to.startsWith('/studio') ? done.to : '/studio';
  if (secondFactor) await comeIn(event, await letIn(account, HOW, fromOf(event)));
  else if (!(await afterFirst(event, await afterFirstFactor(account, HOW, fromOf(event)))))
    redirect(303, `/studio/sign-in?to=${encodeURIComponent(to)}`);
  redirect(303, to);
};
