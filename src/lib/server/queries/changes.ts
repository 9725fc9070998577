import { EVERYTHING, run, select } from '../database/connect';

/** How far the counters of changes had come, by the number of each. */
export type Counters = ReadonlyMap<number, number>;

export async function countersNow(): Promise<Counters> {
  const rows = await select<{ shard: number; n: number }>('SELECT shard, n FROM content_changes');
  return new Map(rows.map(({ shard, n }) => [shard, Number(n)]));
}

/** The version of the content that these counters stand for; see `contentVersion`. */
export const versionOf = (counters: Counters): string => String([...counters.values()].reduce((sum, n) => sum + n, 0));

/** More changes than these are not told one by one. */
const MOST = 20_000;

/** Records that were changed since counters had come so far, or all of them; some that were changed before may be among them. */
export async function changedSince(counters: Counters): Promise<number[] | 'everything'> {
  if (!counters.size) return 'everything';
  const rows = await select<{ id: number }>(
    `SELECT DISTINCT record_id AS id FROM record_changes WHERE ${[...counters].map(() => '(shard = ? AND n > ?)').join(' OR ')} LIMIT ${MOST + 1}`,
    [...counters].flat(),
  );
  const ids = rows.map(({ id }) => id);
  return ids.length > MOST || ids.includes(EVERYTHING) ? 'everything' : ids;
}

/** Forgets changes from before so many minutes. */
export const forgetChanges = (minutes: number): Promise<void> =>
  run('DELETE FROM record_changes WHERE moment < NOW() - INTERVAL ? MINUTE LIMIT 50000', [minutes]);
