import { Op } from 'sequelize';
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

export const insertDevice = async (row: { tokenHash: string; accountId: number; ends: Date }): Promise<void> => {
  await table('devices').create(row);
};

/** Until when a device is known to an account; undefined where it is not. */
export async function deviceEnds(tokenHash: string, accountId: number): Promise<Date | undefined> {
  const row = await table('devices').findOne({ where: { tokenHash, accountId } });
  return row ? (row.get('ends') as Date) : undefined;
}
