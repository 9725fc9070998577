import { Op } from 'sequelize';
import { fromJson } from '../database/connect';
import { plainRows, table } from '../database/tables';

/** A session, without the hash of its secret. */
export interface SessionOfAccount {
  id: string;
  created: Date;
  seen: Date;
  address: string;
  browser: string;
}

export const insertSession = async (
  row: SessionOfAccount & { tokenHash: string; accountId: number; confirmed: Date; ends: Date },
): Promise<void> => {
  await table('sessions').create({ ...row });
};

export const noteSessionSeen = async (tokenHash: string, seen: Date): Promise<void> => {
  await table('sessions').update({ seen }, { where: { tokenHash } });
};

export const noteSessionConfirmed = async (id: string, confirmed: Date): Promise<void> => {
  await table('sessions').update({ confirmed }, { where: { id } });
};

/** The sessions of an account that hold and were seen since, the last seen first. */
export const sessionRows = async (accountId: number, now: Date, seenSince: Date): Promise<SessionOfAccount[]> =>
  plainRows<SessionOfAccount>(
    await table('sessions').findAll({
      where: { accountId, ends: { [Op.gt]: now }, seen: { [Op.gt]: seenSince } },
      order: [['seen', 'DESC']],
      limit: 100,
    }),
  );

/** Gives whether there was one. */
export const deleteSession = async (accountId: number, id: string): Promise<boolean> =>
  (await table('sessions').destroy({ where: { accountId, id } })) > 0;

/** Deletes every session of an account, or all but one. */
export const deleteSessions = async (accountId: number, but?: string): Promise<void> => {
  await table('sessions').destroy({ where: { accountId, ...(but && { id: { [Op.ne]: but } }) } });
};

export const deleteSessionWith = async (tokenHash: string): Promise<void> => {
  await table('sessions').destroy({ where: { tokenHash } });
};

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

export const insertDevice = async (row: { tokenHash: string; accountId: number; ends: Date }): Promise<void> => {
  await table('devices').create(row);
};

/** Until when a device is known to an account; undefined where it is not. */
export async function deviceEnds(tokenHash: string, accountId: number): Promise<Date | undefined> {
  const row = await table('devices').findOne({ where: { tokenHash, accountId } });
  return row ? (row.get('ends') as Date) : undefined;
}

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
