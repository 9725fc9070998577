import { fromJson, inTransaction } from '../database/connect';
import { deletePasses, insertPass, passWith } from '../queries/passes';
import { takePass } from '../queries/people';
import { hashOf, isSecret, newSecret } from './secrets';

/**
 * What a pass is good for, once: to make the first owner, to take an invitation, to set a password anew, to take another
 * address into use, to join an account to the identity provider, to come in without a password (in a demo), to go on after the first factor, or to come back from a passkey or an identity provider.
 */
export type Purpose =
  | 'owner'
  | 'invitation'
  | 'reset'
  | 'address'
  | 'join'
  | 'entry'
  | 'second'
  | 'passkey'
  | 'register'
  | 'code'
  | 'provider';

/** How long each holds, in minutes. */
const MINUTES: Record<Purpose, number> = {
  owner: 60,
  invitation: 7 * 24 * 60,
  reset: 60,
  address: 24 * 60,
  join: 60,
  entry: 60,
  second: 10,
  passkey: 5,
  register: 5,
  code: 15,
  provider: 10,
};

interface Pass {
  accountId: number | null;
  data: unknown;
}

/** Makes a pass and gives its secret, which is told this once. */
export async function givePass(
  purpose: Purpose,
  { accountId = null, data = {} }: { accountId?: number | null; data?: object } = {},
): Promise<string> {
  const secret = newSecret();
  const ends = new Date(Date.now() + MINUTES[purpose] * 60_000);
  await insertPass({ tokenHash: hashOf(secret), purpose, accountId, data, ends });
  return secret;
}

/** What a pass is for, while it holds; it is not used up by looking. */
export async function lookAtPass(secret: string): Promise<(Pass & { purpose: Purpose }) | undefined> {
  if (!isSecret(secret)) return undefined;
  const row = await passWith(hashOf(secret));
  if (!row || row.ends <= new Date()) return undefined;
  return { purpose: row.purpose as Purpose, accountId: row.accountId, data: row.data };
}

/** Uses a pass up; undefined where it does not hold (any more), or is for something else. */
export async function usePass(secret: string | undefined, purpose: Purpose): Promise<Pass | undefined> {
  if (!isSecret(secret)) return undefined;
  const taken = await inTransaction((transaction) => takePass(hashOf(secret), purpose, new Date(), transaction), {
    writes: 'nothing',
  });
  return taken && { accountId: taken.accountId, data: fromJson(taken.data) };
}

/** Takes back every pass of an account for these purposes. */
export const endPasses = (accountId: number, purposes: readonly Purpose[]): Promise<void> =>
  deletePasses(accountId, purposes);
