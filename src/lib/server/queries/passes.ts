import { fromJson } from '../database/connect';
import { table } from '../database/tables';

/** A link or step that holds once, and for a while. */
export interface PassRow {
  tokenHash: string;
  purpose: string;
  accountId: number | null;
  data: unknown;
  ends: Date;
}

export const insertPass = async (row: PassRow): Promise<void> => {
  await table('passes').create({ ...row });
};

export async function passWith(tokenHash: string): Promise<PassRow | undefined> {
  const row = await table('passes').findByPk(tokenHash);
  if (!row) return undefined;
  const pass = row.get({ plain: true }) as PassRow;
  return { ...pass, data: fromJson(pass.data) };
}

export const deletePasses = async (accountId: number, purposes: readonly string[]): Promise<void> => {
  await table('passes').destroy({ where: { accountId, purpose: [...purposes] } });
};
