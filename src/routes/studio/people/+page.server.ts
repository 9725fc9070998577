import { readAccounts } from '$lib/server/people/accounts';
import { mails } from '$lib/server/people/mail';
import { providerName, readProviderRules } from '$lib/server/people/provider';
import { readAllTokens } from '$lib/server/people/tokens';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [people, tokens, { rules }] = await Promise.all([readAccounts(), readAllTokens(), readProviderRules()]);
  return { people, tokens, rules, provider: providerName(), mails: mails() };
};
