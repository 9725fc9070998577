import { isAnybodyThere } from '../queries/people';
import { readAccounts } from './accounts';
import { accountRow } from '../queries/accounts';
import { linkAddress } from './links';
import { givePass } from './passes';

/** The link with which the first owner is made, good once and for an hour; none where somebody has an account. */
export async function firstLink(origin: string): Promise<string | undefined> {
  return (await isAnybodyThere()) ? undefined : linkAddress(origin, await givePass('owner'));
}

/** The link with which the first owner sets a password, where no owner can sign in any more, such as after a backup without passwords was restored. */
export async function ownerLink(origin: string): Promise<string | undefined> {
  const owners = (await readAccounts()).filter(({ role, closed }) => role === 'owner' && !closed);
  const [first] = owners;
  if (!first || owners.some(({ has }) => has.password || has.provider)) return undefined;
  return linkAddress(origin, await givePass('reset', { accountId: first.id }));
}

/** In a demo: a link that signs in as somebody, good once and for an hour. */
export async function entryLink(origin: string, email: string): Promise<string | undefined> {
  const account = await accountRow({ email });
  return account && linkAddress(origin, await givePass('entry', { accountId: account.id }));
}
