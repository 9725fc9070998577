import { fromJson } from '../database/connect';
import { plainRows, table } from '../database/tables';

export interface PasskeyRow {
  id: string;
  accountId: number;
  credential: string;
  /** Base64url. */
  publicKey: string;
  counter: number | string;
  transports: string[];
  name: string;
  created: Date;
  used: Date | null;
}

const withTransports = (row: PasskeyRow): PasskeyRow => ({ ...row, transports: fromJson(row.transports) });

export const passkeyRows = async (accountId: number): Promise<PasskeyRow[]> =>
  plainRows<PasskeyRow>(await table('passkeys').findAll({ where: { accountId }, order: ['created'] })).map(
    withTransports,
  );

export async function passkeyWith(credential: string): Promise<PasskeyRow | undefined> {
  const row = await table('passkeys').findOne({ where: { credential } });
  return row ? withTransports(row.get({ plain: true }) as PasskeyRow) : undefined;
}

export const insertPasskey = async (row: PasskeyRow): Promise<void> => {
  await table('passkeys').create({ ...row });
};

/** Gives whether there was one. */
export const deletePasskeyRow = async (accountId: number, id: string): Promise<boolean> =>
  (await table('passkeys').destroy({ where: { accountId, id } })) > 0;

export const notePasskeyUse = async (id: string, counter: number, used: Date): Promise<void> => {
  await table('passkeys').update({ counter, used }, { where: { id } });
};
