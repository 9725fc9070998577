import { countTry, forgetTries } from '../queries/people';
import { Refusal } from '../refusal';
import { hashOf } from './secrets';

/** Milliseconds in which tries are counted. */
const WHILE = 15 * 60_000;

/**
 * Tries that are taken in that time: for one account, and from one address, whatever the account. NIST SP 800-63B-4, 3.2.2
 * (from memory) allows 100 failures in a row at most.
 */
export const MOST_TRIES = { account: 10, address: 60 };

const name = (of: keyof typeof MOST_TRIES, what: string) => hashOf(`${of} ${what.toLowerCase()}`);

/** Counts a try before it is looked at; refuses with 429 where there were too many. What fails and succeeds costs the same. */
export async function throttle(of: keyof typeof MOST_TRIES, what: string): Promise<void> {
  const now = new Date();
  const { n, ends } = await countTry(name(of, what), now, new Date(now.getTime() + WHILE));
  if (n <= MOST_TRIES[of]) return;
  const seconds = Math.max(1, Math.ceil((ends.getTime() - now.getTime()) / 1000));
  const minutes = Math.ceil(seconds / 60);
  throw new Refusal(
    429,
    `There were too many tries. Wait ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}, or sign in with a passkey.`,
    [],
    { retryAfter: seconds },
  );
}

/** Tries of an account that ended well are not held against it. */
export const forgiven = (account: string): Promise<void> => forgetTries(name('account', account));
