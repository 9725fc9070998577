import { Op, type WhereOptions } from 'sequelize';
import type { Way } from '../../core/people/activity';
import { plainRows, table } from '../database/tables';

export interface ActivityRow {
  moment: Date;
  accountId: number | null;
  who: string;
  via: Way;
  operation: string;
  what: string;
  /** What it was about, such as `record 12` or `template hut`. */
  subject: string | null;
}

/** An account that has gone meanwhile keeps its name only. */
export async function insertActivity(row: ActivityRow): Promise<void> {
  await table('activities')
    .create({ ...row })
    .catch(async (error: { name?: string }) => {
      if (error.name !== 'SequelizeForeignKeyConstraintError') throw error as unknown as Error;
      await table('activities').create({ ...row, accountId: null });
    });
}

/** Takes an entry into one of the same work since then; false where there is none. */
export async function extendActivity(row: ActivityRow, since: Date): Promise<boolean> {
  const { moment, what, accountId, operation, subject } = row;
  const [n] = await table('activities').update(
    { moment, what },
    { where: { accountId, operation, subject, moment: { [Op.gt]: since } }, limit: 1 },
  );
  return n > 0;
}

export interface ActivityFilter {
  search?: string | undefined;
  accountId?: number | undefined;
  via?: string | undefined;
  subject?: string | undefined;
  from?: Date | undefined;
  /** Not itself included. */
  until?: Date | undefined;
}

/** One page of what was done, the last first, and how much there is. */
export async function activityRows(
  { search, accountId, via, subject, from, until }: ActivityFilter,
  limit: number,
  offset: number,
): Promise<{ rows: (ActivityRow & { id: number | string })[]; total: number }> {
  const where: WhereOptions = {
    ...(search && { what: { [Op.like]: `%${search.replace(/[\\%_]/g, '\\$&')}%` } }),
    ...(accountId !== undefined && { accountId }),
    ...(via && { via }),
    ...(subject && { subject }),
    ...((from ?? until) && { moment: { ...(from && { [Op.gte]: from }), ...(until && { [Op.lt]: until }) } }),
  };
  const { rows, count } = await table('activities').findAndCountAll({ where, order: [['id', 'DESC']], limit, offset });
  return { rows: plainRows(rows), total: count };
}

/** Deletes what was done before, a thousand at a time. */
export const deleteActivities = async (before: Date): Promise<void> => {
  await table('activities').destroy({ where: { moment: { [Op.lt]: before } }, limit: 1000 });
};
