import { plainRows, table } from '../database/tables';

/** A token of a program. */
export interface ApiTokenRow {
  id: string;
  accountId: number;
  name: string;
  tokenHash: string;
  scopes: unknown;
  created: Date;
  used: Date | null;
  ends: Date;
}

export const countApiTokens = (accountId: number): Promise<number> =>
  table('apiTokens').count({ where: { accountId } });

export const insertApiToken = async (row: ApiTokenRow): Promise<void> => {
  await table('apiTokens').create({ ...row });
};

/** The tokens of an account, or of all, the newest first. */
export const apiTokenRows = async (limit: number, accountId?: number): Promise<ApiTokenRow[]> =>
  plainRows<ApiTokenRow>(
    await table('apiTokens').findAll({
      where: accountId === undefined ? {} : { accountId },
      order: [['created', 'DESC']],
      limit,
    }),
  );

/** Deletes a token, of this account where one is named. Gives whether there was one. */
export const deleteApiToken = async (id: string, accountId?: number): Promise<boolean> =>
  (await table('apiTokens').destroy({ where: { id, ...(accountId !== undefined && { accountId }) } })) > 0;

export const deleteApiTokens = async (accountId: number): Promise<void> => {
  await table('apiTokens').destroy({ where: { accountId } });
};

export const noteApiTokenUse = async (id: string, used: Date): Promise<void> => {
  await table('apiTokens').update({ used }, { where: { id } });
};
