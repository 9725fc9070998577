import { randomBytes } from 'node:crypto';
import { UniqueConstraintError } from 'sequelize';
import { z } from 'zod';
import { problem } from '../../core/base/result';
import { atLeast, ROLES } from '../../core/people/roles';
import { inTransaction } from '../database/connect';
import {
  accountRow,
  accountRows,
  deleteAccountRow,
  insertAccount,
  updateAccount,
  type AccountRow,
} from '../queries/accounts';
import { countOpen } from '../queries/people';
import { notFound, Refusal } from '../base/refusal';
import { endPasses } from './passes';
import { checkPassword, passwordHash } from './passwords';
import { endSessions } from './sessions';
import { endTokens } from './tokens';

export const Email = z
  .string({ error: 'Give an e-mail address.' })
  .trim()
  .toLowerCase()
  .max(254, { error: 'This is too long for an e-mail address.' })
  .pipe(z.email({ error: 'This is no e-mail address, such as mara@huts.example.' }));
export const PersonName = z
  .string({ error: 'Give a name.' })
  .trim()
  .min(1, { error: 'Give a name.' })
  .max(160, { error: 'This name is too long.' });

export const NewAccount = z.strictObject({
  name: PersonName,
  email: Email,
  role: z.enum(ROLES, { error: 'Choose a role.' }),
  mayPublish: z.boolean().default(false),
});
export const AccountChange = z.strictObject({
  name: PersonName.optional(),
  email: Email.optional(),
  role: z.enum(ROLES).optional(),
  mayPublish: z.boolean().optional(),
  closed: z.boolean().optional(),
});

/** Somebody who may sign in, as others see it; `created` is an instant (RFC 3339). */
export interface Account extends Pick<AccountRow, 'id' | 'name' | 'email' | 'role' | 'mayPublish' | 'closed'> {
  created: string;
  /** How it may sign in. */
  has: { password: boolean; code: boolean; provider: boolean };
}

export const publicAccount = ({ id, name, email, role, mayPublish, closed, created, ...row }: AccountRow): Account => ({
  id,
  name,
  email,
  role,
  mayPublish: Boolean(mayPublish),
  closed: Boolean(closed),
  created: created.toISOString(),
  has: { password: row.password !== null, code: row.codeSecret !== null, provider: row.subject !== null },
});

export async function accountNumbered(id: number): Promise<AccountRow> {
  const row = await accountRow({ id });
  if (!row) throw notFound('account with this number');
  return row;
}

export const readAccounts = async (): Promise<Account[]> => (await accountRows(5000)).map(publicAccount);

const taken = (error: unknown): never => {
  if (error instanceof UniqueConstraintError)
    throw new Refusal(409, 'There is an account with this address already.', [
      problem('email', 'Somebody signs in with it already.', 'Take another one.'),
    ]);
  throw error;
};

/** Makes an account; without a password, an invitation sets one. */
export async function createAccount(
  asked: z.infer<typeof NewAccount>,
  {
    password,
    subject = null,
    emailProved = false,
    roleByRule = false,
  }: { password?: string } & Partial<Pick<AccountRow, 'subject' | 'emailProved' | 'roleByRule'>> = {},
): Promise<Account> {
  if (password !== undefined) checkPassword(password, [asked.name, asked.email]);
  const handle = randomBytes(32).toString('base64url');
  const hash = password === undefined ? null : await passwordHash(password);
  const row = {
    ...asked,
    closed: false,
    created: new Date(),
    handle,
    password: hash,
    subject,
    emailProved,
    roleByRule,
  };
  return publicAccount(await insertAccount(row).catch(taken));
}

const LAST_OWNER = 'This is the only owner. Make somebody else an owner first.';

/** What is changed by hand, or by a rule about people of the identity provider. */
export type AnyChange = z.infer<typeof AccountChange> &
  Partial<Pick<AccountRow, 'roleByRule' | 'roleBefore' | 'emailProved'>>;

/**
 * Changes an account. There is always an owner who may sign in. An address that is set so is not proved. Where the role is raised,
 * sessions end; where it is closed, tokens too, for good.
 */
export async function changeAccount(id: number, requested: AnyChange): Promise<Account> {
  const before = await accountNumbered(id);
  const change: AnyChange = {
    ...(requested.email !== undefined && requested.email !== before.email && { emailProved: false }),
    ...(requested.role !== undefined && { roleByRule: false, roleBefore: null }),
    ...requested,
  };
  await inTransaction(
    async (transaction) => {
      const leaves = (change.role !== undefined && change.role !== 'owner') || change.closed === true;
      if (before.role === 'owner' && !before.closed && leaves && (await countOpen('owner', transaction)) < 2)
        throw new Refusal(409, LAST_OWNER);
      if (Object.keys(change).length) await updateAccount(id, change, { transaction }).catch(taken);
    },
    { writes: 'nothing' },
  );
  if (change.closed) {
    await endSessions(id);
    await endTokens(id);
    await endPasses(id, EVERY_LINK);
  } else if (change.role !== undefined && change.role !== before.role && atLeast(change.role, before.role))
    await endSessions(id);
  return publicAccount(await accountNumbered(id));
}

/** Takes an account away; what it did keeps its name. */
export async function deleteAccount(id: number): Promise<void> {
  const before = await accountNumbered(id);
  await inTransaction(
    async (transaction) => {
      if (before.role === 'owner' && !before.closed && (await countOpen('owner', transaction)) < 2)
        throw new Refusal(409, LAST_OWNER);
      await deleteAccountRow(id, transaction);
    },
    { writes: 'nothing' },
  );
}

/** Every pass by which somebody could still come in as an account, or change how it comes in. */
const EVERY_LINK = ['invitation', 'reset', 'entry', 'second', 'address', 'join', 'provider'] as const;

/**
 * Ends what an account is signed in by elsewhere, since what lets it in has changed: its sessions but one, its links, and its tokens for programs where that is wanted.
 */
export async function endOtherAccess(
  id: number,
  { but, tokens = false }: { but?: string; tokens?: boolean } = {},
): Promise<void> {
  await endSessions(id, but);
  await endPasses(id, EVERY_LINK);
  if (tokens) await endTokens(id);
}

/** Makes an account that of a person of the identity provider, whom `subject` names by issuer and subject. */
export async function joinAccount(
  id: number,
  subject: string,
  proved: Partial<Pick<AccountRow, 'emailProved'>>,
): Promise<void> {
  if (!(await updateAccount(id, { subject, ...proved }, { where: { subject: null } })))
    throw new Refusal(409, 'This account is joined to somebody of the identity provider already.');
}

/** Sets a password. See `endOtherAccess`; tokens end unless they are to stay. */
export async function setPassword(
  id: number,
  password: string,
  { but, tokens = true, emailProved }: { but?: string; tokens?: boolean; emailProved?: true } = {},
): Promise<void> {
  const account = await accountNumbered(id);
  checkPassword(password, [account.name, account.email]);
  await updateAccount(id, { password: await passwordHash(password), ...(emailProved && { emailProved }) });
  await endOtherAccess(id, { but, tokens });
}
