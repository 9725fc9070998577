import { ROLE_WORDS } from '../../core/people/roles';
import { Refusal } from '../base/refusal';
import { accountNumbered, changeAccount, endOtherAccess } from './accounts';
import { accountRow, type AccountRow } from '../queries/accounts';
import { mail, mails } from './mail';
import { endPasses, givePass } from './passes';

/** The address of a link that is good once. */
export const linkAddress = (origin: string, secret: string): string => `${origin}/studio/link/${secret}`;

/** What an owner is told: the link to hand on, unless it went by mail. */
export interface LinkSent {
  link?: string;
  mailed: boolean;
}

const LETTERS = {
  invitation: (account: AccountRow, link: string) => ({
    subject: 'You are invited to Plum Thread',
    text: `Hello ${account.name},\n\nyou are invited to the studio as ${ROLE_WORDS[account.role].name.toLowerCase()}. Choose a password here; the link holds for seven days, and once:\n\n${link}\n`,
  }),
  reset: (account: AccountRow, link: string) => ({
    subject: 'A new password for Plum Thread',
    text: `Hello ${account.name},\n\nchoose a new password here; the link holds for an hour, and once:\n\n${link}\n\nIf you did not ask for it, do nothing; your password stays as it is.\n`,
  }),
};

/**
 * Tells somebody by mail that what lets them in was changed, where there is a mail server; nobody waits for it. `to` is
 * where they were reached before.
 */
export function letKnow({ name, email }: Pick<AccountRow, 'name' | 'email'>, what: string, to = email): void {
  void mail(
    to,
    'Your account at Plum Thread has changed',
    `Hello ${name},\n\n${what}\n\nIf it was not you, ask an owner at once to close your account.\n`,
  );
}

/**
 * Sends a link to the address that an account is to have; until it is opened nothing changes. Throws a refusal (409) where there is no mail
 * server, since an address that is not proved lets others in.
 */
export async function askAddress(account: AccountRow, email: string, origin: string): Promise<void> {
  if (!mails())
    throw new Refusal(409, 'No letter can be sent from here, so that the new address cannot be proved.', [
      { at: 'email', what: 'It counts only once a link sent to it was opened.', fix: 'Ask an owner to change it.' },
    ]);
  if (await accountRow({ email }))
    throw new Refusal(409, 'There is an account with this address already.', [
      { at: 'email', what: 'Somebody signs in with it already.', fix: 'Take another one.' },
    ]);
  await endPasses(account.id, ['address']);
  const link = linkAddress(origin, await givePass('address', { accountId: account.id, data: { email } }));
  const sent = await mail(
    email,
    'Your new address at Plum Thread',
    `Hello ${account.name},\n\nsign in with this address from now on by opening this link; it holds for a day, and once:\n\n${link}\n\nIf you did not ask for it, do nothing.\n`,
  );
  if (!sent) throw new Refusal(409, 'The letter to the new address could not be sent. Try again in a moment.');
}

/** Takes an address into use that was proved by a link; all sessions end. */
export async function takeAddress(id: number, email: string): Promise<void> {
  const before = await accountNumbered(id);
  await changeAccount(id, { email, emailProved: true });
  await endOtherAccess(id);
  letKnow(before, `You sign in with ${email} from now on.`);
}

/**
 * Sends a link by which an account is joined to the person of the identity provider who came with its address. False where no letter can be sent.
 */
export async function askToJoin(
  account: AccountRow,
  subject: string,
  provider: string,
  origin: string,
): Promise<boolean> {
  if (!mails()) return false;
  await endPasses(account.id, ['join']);
  const link = linkAddress(origin, await givePass('join', { accountId: account.id, data: { subject } }));
  return mail(
    account.email,
    'Sign in to Plum Thread by your organisation',
    `Hello ${account.name},\n\nsomebody whom ${provider} knows by this address wants to sign in to your account. If it was you, open this link; it holds for an hour, and once:\n\n${link}\n\nIf it was not you, do nothing, and tell an owner.\n`,
  );
}

/** What somebody gets who has forgotten their password: a link to set one, or, where the identity provider lets them in, word of that alone. */
export async function sendForgotten(id: number, origin: string): Promise<void> {
  const account = await accountNumbered(id);
  if (account.subject === null) await sendLink(id, origin);
  else
    await mail(
      account.email,
      'Signing in to Plum Thread',
      `Hello ${account.name},\n\nyour organisation's identity provider signs you in; there is no password to choose here:\n\n${origin}/studio/sign-in\n`,
    );
}

/** Sends somebody a link by which they set a password. Links of before hold no more. */
export async function sendLink(id: number, origin: string): Promise<LinkSent> {
  const account = await accountNumbered(id);
  const purpose = account.password === null ? 'invitation' : 'reset';
  await endPasses(id, ['invitation', 'reset']);
  const link = linkAddress(origin, await givePass(purpose, { accountId: id }));
  const { subject, text } = LETTERS[purpose](account, link);
  const mailed = await mail(account.email, subject, text);
  return mailed ? { mailed } : { link, mailed };
}
