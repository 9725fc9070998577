import { ROLE_WORDS } from '../../core/people/roles';
import { accountNumbered, type AccountRow } from './accounts';
import { mail } from './mail';
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
