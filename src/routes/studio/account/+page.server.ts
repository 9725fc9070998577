import { error } from '@sveltejs/kit';
import { accountNumbered, publicAccount } from '$lib/server/people/accounts';
import { providerName } from '$lib/server/people/provider';
import { readPasskeys } from '$lib/server/people/passkeys';
import { recoveryCodesLeft } from '$lib/server/people/second-factor';
import { sessionsOf } from '$lib/server/people/sessions';
import { readTokens } from '$lib/server/people/tokens';
import { tokenGroups } from '$lib/server/api/operations/account';
import { allOperations } from '$lib/server/api/all-operations';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { who } }) => {
  if (!who) error(401);
  const [account, passkeys, recovery, sessions, tokens] = await Promise.all([
    accountNumbered(who.id),
    readPasskeys(who.id),
    recoveryCodesLeft(who.id),
    sessionsOf(who.id, who.session ?? ''),
    readTokens(who.id),
  ]);
  return {
    provider: providerName(),
    account: publicAccount(account),
    passkeys,
    recovery,
    sessions,
    tokens,
    groups: tokenGroups(allOperations),
  };
};
