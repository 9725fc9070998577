import { Op, type WhereOptions } from 'sequelize';
import type { Way } from '../../core/people/activity';
import { fromJson } from '../database/connect';
import { plainRows, table } from '../database/tables';

export interface Activity {
  id: number;
  /** Instant, RFC 3339. */
  moment: string;
  accountId: number | null;
  who: string;
  via: Way;
  operation: string;
  what: string;
  /** What it was about, such as `record 12` or `template hut`. */
  subject: string | null;
}
export type Done = Pick<Activity, 'via' | 'operation' | 'what'> & {
  by?: { id: number; name: string };
  subject?: string;
  /** Work that goes on is one entry for so many minutes. */
  goesOn?: number;
};

/** Notes what was done. Values are never in it. */
export async function noteActivity({ by, via, operation, what, subject, goesOn }: Done): Promise<void> {
  const moment = new Date();
  const row = {
    ...{ moment, accountId: by?.id ?? null, who: by?.name ?? 'Plum Thread', via, operation },
    ...{ what: what.slice(0, 500), subject: subject?.slice(0, 80) ?? null },
  };
  if (goesOn) {
    const since = new Date(moment.getTime() - goesOn * 60_000);
    const [n] = await table('activities').update(
      { moment, what: row.what },
      { where: { accountId: row.accountId, operation, subject: row.subject, moment: { [Op.gt]: since } }, limit: 1 },
    );
    if (n) return;
  }
  // An account that has gone meanwhile keeps its name only.
  await table('activities')
    .create(row)
    .catch(async (error: { name?: string }) => {
      if (error.name !== 'SequelizeForeignKeyConstraintError') throw error as unknown as Error;
      await table('activities').create({ ...row, accountId: null });
    });
}

export interface ActivityQuery {
  search?: string;
  account?: number;
  via?: string;
  subject?: string;
  /** Days in UTC, both included. */
  from?: string;
  until?: string;
}

const day = (text: string | undefined, plus = 0): Date | undefined => {
  const time = /^\d{4}-\d{2}-\d{2}$/.test(text ?? '') ? Date.parse(`${text}T00:00:00Z`) : NaN;
  return Number.isNaN(time) ? undefined : new Date(time + plus * 86_400_000);
};

/** What was done, the last first. */
export async function readActivity(
  query: ActivityQuery,
  limit = 50,
  offset = 0,
): Promise<{ items: Activity[]; total: number }> {
  const { search, account, via, subject } = query;
  const [from, until] = [day(query.from), day(query.until, 1)];
  const where: WhereOptions = {
    ...(search && { what: { [Op.like]: `%${search.replace(/[\\%_]/g, '\\$&')}%` } }),
    ...(account !== undefined && { accountId: account }),
    ...(via && { via }),
    ...(subject && { subject }),
    ...((from ?? until) && { moment: { ...(from && { [Op.gte]: from }), ...(until && { [Op.lt]: until }) } }),
  };
  const { rows, count } = await table('activities').findAndCountAll({ where, order: [['id', 'DESC']], limit, offset });
  const items = plainRows<Omit<Activity, 'moment'> & { moment: Date }>(rows).map((row) => ({
    ...{ id: Number(row.id), moment: row.moment.toISOString(), accountId: row.accountId, who: row.who, via: row.via },
    ...{ operation: row.operation, what: row.what, subject: row.subject },
  }));
  return { items, total: count };
}

const SETTING = 'days activity is kept';
export async function activityDays(): Promise<number> {
  const row = await table('settings').findByPk(SETTING);
  return row ? fromJson<number>(row.get('value')) : 730;
}
/** Forgets what was done longer ago than it is kept. */
export async function deleteOldActivity(): Promise<void> {
  const before = new Date(Date.now() - (await activityDays()) * 86_400_000);
  await table('activities').destroy({ where: { moment: { [Op.lt]: before } }, limit: 1000 });
}
