import { log } from '../base/log';
import { Refusal } from '../base/refusal';
import { accountNumbered } from './accounts';
import { accountRow, type AccountRow } from '../queries/accounts';
import { noteActivity } from './activity';
import { givePass, lookAtPass, usePass } from './passes';
import { passwordFits } from './passwords';
import { passkeyAnswered, type Party } from './passkeys';
import { codeFits } from './second-factor';
import { beginSession } from './sessions';
import { isKnownDevice } from './devices';
import { clearAttempts, clearPasswordAttempts, throttle, throttlePassword } from './throttle';

/** From where somebody comes: the address of their computer, and what their browser calls itself. */
export interface From {
  address: string;
  browser: string;
  /** The secret that the browser keeps of having come in before. */
  device?: string;
}

/** A session's secret; or the pass for a second step, where the account asks for a code too. */
export type In = { session: string } | { second: string };

const REFUSED = 'Address and password do not fit together.';

/** Lets an account in after its first factor, or gives the pass for the second one. `first` says what the first one was. */
export async function afterFirstFactor(
  account: Pick<AccountRow, 'id' | 'name' | 'codeSecret'>,
  first: string,
  from: From,
): Promise<In> {
  if (account.codeSecret === null) return { session: await letIn(account, first, from) };
  return { second: await givePass('second', { accountId: account.id, data: { first } }) };
}

/** Lets an account in, by a session that is new. */
export async function letIn(account: Pick<AccountRow, 'id' | 'name'>, how: string, from: From): Promise<string> {
  const session = await beginSession(account.id, from.address, from.browser);
  await noteActivity({ by: account, via: 'screen', operation: 'signIn', what: `Signed in with ${how}` });
  return session;
}

/** Signs in with a password. What does not exist, and what is closed, answers as what does not fit. */
export async function withPassword(email: string, password: string, from: From): Promise<In> {
  const named = email.trim().toLowerCase().slice(0, 254);
  const account = await accountRow({ email: named });
  const device = account && (await isKnownDevice(account.id, from.device)) ? from.device : undefined;
  await throttlePassword(named, from.address, device);
  if (!(await passwordFits(account?.password, password)) || !account || account.closed) {
    log().warn({ address: from.address, account: account?.id }, 'A sign-in was refused');
    throw new Refusal(403, REFUSED);
  }
  if (account.codeSecret !== null) return { second: await givePass('second', { accountId: account.id }) };
  await clearPasswordAttempts(named, from.address, device);
  return { session: await letIn(account, 'a password', from) };
}

/** The second step: a code of the program, or a recovery code. */
export async function withCode(pass: string, code: string, from: From): Promise<string> {
  const begun = await lookAtPass(pass);
  if (begun?.purpose !== 'second' || begun.accountId === null)
    throw new Refusal(409, 'This took too long. Sign in once more.');
  await throttle('account', `code of ${begun.accountId}`);
  const account = await accountNumbered(begun.accountId);
  if (account.closed || !(await codeFits(account.id, code))) {
    log().warn({ address: from.address, account: account.id }, 'A code was refused');
    throw new Refusal(403, 'This code does not fit, or was used already.');
  }
  // Only one of two that come at once.
  if (!(await usePass(pass, 'second'))) throw new Refusal(409, 'This took too long. Sign in once more.');
  await clearAttempts(`code of ${account.id}`);
  const device = (await isKnownDevice(account.id, from.device)) ? from.device : undefined;
  await clearPasswordAttempts(account.email, from.address, device);
  const { first = 'a password' } = begun.data as { first?: string };
  return letIn(account, `${first} and a code`, from);
}

/** Signs in with a passkey; the browser has made sure that it is its owner, so that no code is asked for. */
export async function withPasskey(pass: string, response: unknown, party: Party, from: From): Promise<string> {
  await throttle('address', from.address);
  const account = await passkeyAnswered(pass, response, party);
  return letIn(account, 'a passkey', from);
}
