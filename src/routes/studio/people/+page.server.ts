import { readAccounts } from '$lib/server/people/accounts';
import { mails } from '$lib/server/people/mail';
import { providerName, readProviderRules } from '$lib/server/people/provider';
import { readAllTokens } from '$lib/server/people/tokens';
import { readModel } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [people, tokens, { rules }, model] = await Promise.all([
    readAccounts(),
    readAllTokens(),
    readProviderRules(),
    readModel(),
  ]);
  return { people, tokens, rules, provider: providerName(), mails: mails(), locale: model.site.locale };
};
