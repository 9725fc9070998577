import { error, fail, redirect } from '@sveltejs/kit';
import { problemsOf } from '$lib/core/base/result';
import {
  accountNumbered,
  createAccount,
  endOtherAccess,
  joinAccount,
  NewAccount,
  setPassword,
} from '$lib/server/people/accounts';
import { noteActivity } from '$lib/server/people/activity';
import { afterFirst, comeIn, fromOf } from '$lib/server/people/coming-in';
import { letKnow, takeAddress } from '$lib/server/people/links';
import { lookAtPass, usePass } from '$lib/server/people/passes';
import { providerName } from '$lib/server/people/provider';
import { checkPassword } from '$lib/server/people/passwords';
import { afterFirstFactor, letIn } from '$lib/server/people/sign-in';
import { isAnybodyThere } from '$lib/server/queries/people';
import { configuration } from '$lib/server/base/server';
import { Refusal } from '$lib/server/base/refusal';
import type { Actions, PageServerLoad } from './$types';

const GONE = 'This link holds no more: it was used, it is too old, or there is a newer one. Ask for another one.';

export const load: PageServerLoad = async (event) => {
  const { secret } = event.params;
  const pass = await lookAtPass(secret);
  if (pass?.purpose === 'entry' && pass.accountId !== null && configuration().demo) {
    if (!(await usePass(secret, 'entry'))) error(410, GONE);
    await comeIn(event, await letIn(await accountNumbered(pass.accountId), 'the printed link', fromOf(event)));
    redirect(303, '/studio');
  }
  if (pass?.purpose === 'owner' && !(await isAnybodyThere())) return { purpose: 'owner' as const };
  if ((pass?.purpose === 'invitation' || pass?.purpose === 'reset') && pass.accountId !== null) {
    const { name, email, closed } = await accountNumbered(pass.accountId);
    if (!closed) return { purpose: pass.purpose, name, email };
  }
  if ((pass?.purpose === 'address' || pass?.purpose === 'join') && pass.accountId !== null) {
    const { name, email, closed } = await accountNumbered(pass.accountId);
    const newEmail = (pass.data as { email?: string }).email;
    if (!closed) return { purpose: pass.purpose, name, email: newEmail ?? email, provider: providerName() };
  }
  error(410, GONE);
};

const word = (form: FormData, name: string): string => {
  const value = form.get(name);
  return typeof value === 'string' ? value.slice(0, 1000) : '';
};
const refusal = (failure: unknown, more: object) => {
  if (!(failure instanceof Refusal)) throw failure;
  const { status, title, problems } = failure;
  return fail(status, { refused: title, problems, ...more });
};

/** Uses a link up that changes an open account: the account, and what of it the link is for. Refused where it holds no more. */
async function useLink(secret: string, purpose: 'address' | 'join', name: 'email' | 'subject') {
  const pass = await usePass(secret, purpose);
  const value = (pass?.data as Record<string, string | undefined> | undefined)?.[name];
  const account = pass && pass.accountId !== null && value ? await accountNumbered(pass.accountId) : undefined;
  if (!account || !value || account.closed) throw new Refusal(409, GONE);
  return { account, value };
}

export const actions: Actions = {
  /** Makes the first owner, once. */
  async owner(event) {
    const form = await event.request.formData();
    const [name, email, password] = [word(form, 'name'), word(form, 'email'), word(form, 'password')];
    const parsed = NewAccount.safeParse({ name, email, role: 'owner' });
    if (!parsed.success)
      return fail(422, { refused: 'The account cannot be made so.', problems: problemsOf(parsed.error), name, email });
    try {
      checkPassword(password, [name, email]);
      // Used up only when everything else holds, and by one of two who come at once.
      if ((await isAnybodyThere()) || !(await usePass(event.params.secret, 'owner'))) throw new Refusal(409, GONE);
      const account = await createAccount(parsed.data, { password });
      await noteActivity({ by: account, via: 'start', operation: 'firstOwner', what: 'Made the first account' });
      await comeIn(event, await letIn(account, 'a new password', fromOf(event)));
    } catch (failure) {
      return refusal(failure, { name, email });
    }
    redirect(303, '/studio');
  },
  /** Sets the password that an invitation or a reset is for. */
  async password(event) {
    const form = await event.request.formData();
    const password = word(form, 'password');
    let done: boolean;
    try {
      const pass = await lookAtPass(event.params.secret);
      if (!pass || pass.accountId === null || (pass.purpose !== 'invitation' && pass.purpose !== 'reset'))
        throw new Refusal(409, GONE);
      const account = await accountNumbered(pass.accountId);
      checkPassword(password, [account.name, account.email]);
      if (account.closed || !(await usePass(event.params.secret, pass.purpose))) throw new Refusal(409, GONE);
      // The link was sent to the address: whoever opens it reads what is sent there.
      await setPassword(account.id, password, { tokens: form.get('tokens') !== 'stay', emailProved: true });
      if (pass.purpose === 'reset')
        letKnow(account, 'You have another password, set by the link that was sent to you.');
      await noteActivity({ by: account, via: 'screen', operation: 'setPassword', what: 'Set a password by a link' });
      done = await afterFirst(event, await afterFirstFactor(account, 'a new password', fromOf(event)));
    } catch (failure) {
      return refusal(failure, {});
    }
    redirect(303, done ? '/studio' : '/studio/sign-in');
  },
  /** Takes the address into use that the link was sent to. */
  async address(event) {
    try {
      const { account, value: email } = await useLink(event.params.secret, 'address', 'email');
      await takeAddress(account.id, email);
      await noteActivity({
        by: account,
        via: 'screen',
        operation: 'takeAddress',
        what: 'Proved another address by a link',
      });
    } catch (failure) {
      return refusal(failure, {});
    }
    redirect(303, '/studio/sign-in');
  },
  /** Joins an account to the person of the identity provider who came with its address. */
  async join(event) {
    const form = await event.request.formData();
    try {
      const { account, value: subject } = await useLink(event.params.secret, 'join', 'subject');
      await joinAccount(account.id, subject, { emailProved: true });
      await endOtherAccess(account.id, { tokens: form.get('tokens') !== 'stay' });
      await noteActivity({
        by: account,
        via: 'screen',
        operation: 'joinAccount',
        what: 'Joined the account to the identity provider',
      });
    } catch (failure) {
      return refusal(failure, {});
    }
    // Not straight to the provider: a form of ours leads to no other site (Content Security Policy, form-action).
    redirect(303, '/studio/sign-in?joined=1');
  },
};
