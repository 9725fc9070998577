import { countTry, deleteAttempts, slowTry } from '../queries/people';
import { Refusal } from '../base/refusal';
import { hashOf } from './secrets';

/** Milliseconds in which tries are counted. */
const WHILE = 15 * 60_000;

/**
 * Tries that are taken in that time: of what only somebody does who is half in already (`account`), of passwords for one account from
 * wherever (`anywhere`), and from one address, whatever the account. NIST SP 800-63B-4, 3.2.2 (from memory) allows 100 failures in a row at most.
 */
export const MOST_TRIES = { account: 10, anywhere: 100, address: 60, begin: 30 };

/** Tries of one account from one address, or from a known device, that need not wait; after them each waits twice as long as the one before, up to the whole time. */
export const FREE_TRIES = 5;
export const waitAfter = (tries: number): number =>
  tries < FREE_TRIES ? 0 : Math.min(1000 * 2 ** (tries - FREE_TRIES), WHILE);

const name = (of: string, what: string) => hashOf(`${of} ${what.toLowerCase()}`);

function tooMany(milliseconds: number): Refusal {
  const seconds = Math.max(1, Math.ceil(milliseconds / 1000));
  const minutes = Math.ceil(seconds / 60);
  const long = seconds < 60 ? `${seconds} s` : `${minutes} ${minutes === 1 ? 'minute' : 'minutes'}`;
  return new Refusal(429, `There were too many tries. Wait ${long}, or sign in with a passkey.`, [], {
    retryAfter: seconds,
  });
}

/** Counts a try before it is looked at; refuses with 429 where there were too many. What fails and succeeds costs the same. */
export async function throttle(of: keyof typeof MOST_TRIES, what: string): Promise<void> {
  const now = new Date();
  const { n, ends } = await countTry(name(of, what), now, new Date(now.getTime() + WHILE));
  if (n > MOST_TRIES[of]) throw tooMany(ends.getTime() - now.getTime());
}

async function slow(of: string, what: string): Promise<void> {
  const now = new Date();
  const wait = await slowTry(name(of, what), now, new Date(now.getTime() + WHILE), waitAfter);
  if (wait > 0) throw tooMany(wait);
}

/**
 * Counts a try of a password. Strangers wait longer and longer for one account from one address, and are bounded together; a device from which the account has come in
 * before is counted by itself, so that no stranger keeps its owner out.
 */
export async function throttlePassword(email: string, address: string, knownDevice: string | undefined): Promise<void> {
  if (knownDevice !== undefined) return slow('device', `${knownDevice} ${email}`);
  await throttle('address', address);
  await slow('pair', `${address} ${email}`);
  await throttle('anywhere', email);
}

/** Tries of an account that ended well are not held against it. */
export const clearAttempts = (account: string): Promise<void> => deleteAttempts(name('account', account));

export async function clearPasswordAttempts(
  email: string,
  address: string,
  knownDevice: string | undefined,
): Promise<void> {
  await deleteAttempts(name('pair', `${address} ${email}`));
  await deleteAttempts(name('anywhere', email));
  if (knownDevice !== undefined) await deleteAttempts(name('device', `${knownDevice} ${email}`));
}
