import type { Transaction } from 'sequelize';
import type { Role } from '../../core/people/roles';
import { plainRows, table } from '../database/tables';

/** Somebody who may sign in, as the database has it. */
export interface AccountRow {
  id: number;
  name: string;
  email: string;
  role: Role;
  mayPublish: boolean;
  /** Closed: it stands, and nobody may sign in with it. */
  closed: boolean;
  created: Date;
  /** Names the account to authenticators. */
  handle: string;
  /** A PHC string. */
  password: string | null;
  /** Who it is at the identity provider, by issuer and subject. */
  subject: string | null;
  /** The secret of its codes, and the last step of time that a code was used for. */
  codeSecret: string | null;
  codeStep?: number | null;
  /** A link that was sent to its address was opened. */
  emailProved: boolean;
  /** Its role was given by a rule about people of the identity provider, and goes with it; `roleBefore` is the one that it had by hand, if any. */
  roleByRule: boolean;
  roleBefore: Role | null;
}

export async function accountRow(
  where: Partial<Pick<AccountRow, 'id' | 'email' | 'subject' | 'handle'>>,
): Promise<AccountRow | undefined> {
  const row = await table('accounts').findOne({ where });
  return row ? (row.get({ plain: true }) as AccountRow) : undefined;
}

export const accountRows = async (limit: number): Promise<AccountRow[]> =>
  plainRows<AccountRow>(await table('accounts').findAll({ order: ['name', 'id'], limit }));

export const accountNames = async (transaction: Transaction): Promise<Pick<AccountRow, 'id' | 'email' | 'handle'>[]> =>
  plainRows(await table('accounts').findAll({ attributes: ['id', 'email', 'handle'], transaction }));

/** Throws Sequelize's `UniqueConstraintError` where the address is taken. */
export const insertAccount = async (row: Omit<Partial<AccountRow>, 'id'>): Promise<AccountRow> =>
  (await table('accounts').create(row)).get({ plain: true }) as AccountRow;

/** Sets columns of an account; with `where` only while these are so. Gives whether there was one. Throws as `insertAccount` does. */
export const updateAccount = async (
  id: number,
  columns: Partial<AccountRow>,
  { where = {}, transaction }: { where?: { subject?: null }; transaction?: Transaction } = {},
): Promise<boolean> => (await table('accounts').update(columns, { where: { id, ...where }, transaction }))[0] > 0;

export const deleteAccountRow = async (id: number, transaction: Transaction): Promise<void> => {
  await table('accounts').destroy({ where: { id }, transaction });
};

/** Puts these recovery codes, as their hashes, in the place of those from before. */
export async function replaceRecoveryCodes(
  accountId: number,
  hashes: readonly string[],
  transaction: Transaction,
): Promise<void> {
  await table('recoveryCodes').destroy({ where: { accountId }, transaction });
  await table('recoveryCodes').bulkCreate(
    hashes.map((codeHash) => ({ accountId, codeHash })),
    { transaction },
  );
}

export const countRecoveryCodes = (accountId: number): Promise<number> =>
  table('recoveryCodes').count({ where: { accountId } });

export const deleteRecoveryCodes = async (accountId: number): Promise<void> => {
  await table('recoveryCodes').destroy({ where: { accountId } });
};

/** Uses a recovery code up; false where there is none with this hash. */
export const takeRecoveryCode = async (accountId: number, codeHash: string): Promise<boolean> =>
  (await table('recoveryCodes').destroy({ where: { accountId, codeHash } })) > 0;
