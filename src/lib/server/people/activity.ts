import {
  activityRows,
  deleteActivities,
  extendActivity,
  insertActivity,
  type ActivityRow,
} from '../queries/activities';
import { readSetting } from '../queries/settings';

/** One entry of what was done; `moment` is an instant (RFC 3339). */
export interface Activity extends Omit<ActivityRow, 'moment'> {
  id: number;
  moment: string;
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
    moment,
    accountId: by?.id ?? null,
    who: by?.name ?? 'Plum Thread',
    via,
    operation,
    what: what.slice(0, 500),
    subject: subject?.slice(0, 80) ?? null,
  };
  if (goesOn && (await extendActivity(row, new Date(moment.getTime() - goesOn * 60_000)))) return;
  await insertActivity(row);
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
  const { search, account: accountId, via, subject } = query;
  const days = { from: day(query.from), until: day(query.until, 1) };
  const { rows, total } = await activityRows({ search, accountId, via, subject, ...days }, limit, offset);
  const items = rows.map((row) => ({
    id: Number(row.id),
    moment: row.moment.toISOString(),
    accountId: row.accountId,
    who: row.who,
    via: row.via,
    operation: row.operation,
    what: row.what,
    subject: row.subject,
  }));
  return { items, total };
}

export const activityDays = async (): Promise<number> => (await readSetting<number>('days activity is kept')) ?? 730;

/** Forgets what was done longer ago than it is kept. */
export async function deleteOldActivity(): Promise<void> {
  await deleteActivities(new Date(Date.now() - (await activityDays()) * 86_400_000));
}
