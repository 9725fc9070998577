import { fail, redirect } from '@sveltejs/kit';
import { ROLES } from '$lib/core/people/roles';
import { hasOwner } from '$lib/server/access/access';
import { readAccounts } from '$lib/server/people/accounts';
import { accountRow } from '$lib/server/queries/accounts';
import { afterFirst, comeIn, fromOf, stepSecret, takeStep } from '$lib/server/people/coming-in';
import { sendForgotten } from '$lib/server/people/links';
import { mails } from '$lib/server/people/mail';
import { lookAtPass } from '$lib/server/people/passes';
import { providerName } from '$lib/server/people/provider';
import { letIn, withCode, withPassword } from '$lib/server/people/sign-in';
import { throttle } from '$lib/server/people/throttle';
import { configuration } from '$lib/server/base/server';
import { Refusal } from '$lib/server/base/refusal';
import { pathWithin } from '$lib/server/site/send';
import type { Actions, PageServerLoad, RequestEvent } from './$types';

/** Whether people are listed for one click: in a demo, never in production. */
const isDemo = () => configuration().demo;

/** Where somebody wanted to go; nowhere but in the studio. */
const wanted = ({ url }: Pick<RequestEvent, 'url'>): string => {
  const path = pathWithin(url.searchParams.get('to'), url.origin);
  return /^\/studio(\/|\?|$)/.test(path) && !path.startsWith('/studio/sign-in') ? path : '/studio';
};

export const load: PageServerLoad = async ({ url, cookies }) => {
  const step = stepSecret(cookies);
  const people = isDemo() && (await hasOwner()) ? await readAccounts() : [];
  return {
    second: step !== undefined && (await lookAtPass(step))?.purpose === 'second',
    to: wanted({ url }),
    provider: providerName(),
    joined: url.searchParams.has('joined'),
    joining: (url.searchParams.get('joining') ?? '').slice(0, 254),
    mails: mails(),
    people: people
      .filter(({ closed }) => !closed)
      .map(({ id, name, role }) => ({ id, name, role }))
      .sort((a, b) => ROLES.indexOf(b.role) - ROLES.indexOf(a.role)),
  };
};

const word = (form: FormData, name: string, most: number): string => {
  const value = form.get(name);
  return typeof value === 'string' ? value.slice(0, most) : '';
};

const refusal = (failure: unknown, more: object = {}) => {
  if (!(failure instanceof Refusal)) throw failure;
  return fail(failure.status, { refused: failure.title, ...more });
};

export const actions: Actions = {
  async password(event) {
    const form = await event.request.formData();
    const email = word(form, 'email', 300);
    let done: boolean;
    try {
      done = await afterFirst(event, await withPassword(email, word(form, 'password', 1000), fromOf(event)));
    } catch (failure) {
      return refusal(failure, { email });
    }
    redirect(303, done ? wanted(event) : `/studio/sign-in?to=${encodeURIComponent(wanted(event))}`);
  },
  async code(event) {
    const form = await event.request.formData();
    try {
      const secret = await withCode(stepSecret(event.cookies) ?? '', word(form, 'code', 100), fromOf(event));
      takeStep(event.cookies);
      await comeIn(event, secret);
    } catch (failure) {
      return refusal(failure);
    }
    redirect(303, wanted(event));
  },
  restart({ cookies, url }) {
    takeStep(cookies);
    redirect(303, `/studio/sign-in?to=${encodeURIComponent(wanted({ url }))}`);
  },
  async forgotten(event) {
    const form = await event.request.formData();
    const email = word(form, 'email', 254).trim().toLowerCase();
    try {
      await throttle('address', `forgotten ${fromOf(event).address}`);
      await throttle('account', `forgotten ${email}`);
    } catch (failure) {
      return refusal(failure, { email });
    }
    // What does not exist is answered as soon and in the same words.
    void accountRow({ email })
      .then((account) =>
        account && !account.closed && mails() ? sendForgotten(account.id, event.url.origin) : undefined,
      )
      .catch(() => undefined);
    return { sent: email };
  },
  async demo(event) {
    if (!isDemo()) return fail(404, { refused: 'This is no demo.' });
    const id = Number((await event.request.formData()).get('account'));
    const account = Number.isInteger(id) ? await accountRow({ id }) : undefined;
    if (!account || account.closed) return fail(404, { refused: 'There is no such account.' });
    await comeIn(event, await letIn(account, 'one click, as in a demo', fromOf(event)));
    redirect(303, wanted(event));
  },
};
