import { EVERYTHING, run, select, THE_REST } from '../database/connect';

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

const since = (counters: Counters): string => [...counters].map(() => '(shard = ? AND n > ?)').join(' OR ');

/** Records that were changed since counters had come so far, or all of them; some that were changed before may be among them. */
export async function changedSince(counters: Counters): Promise<number[] | 'everything'> {
  if (!counters.size) return 'everything';
  const rows = await select<{ id: number }>(
    `SELECT DISTINCT record_id AS id FROM record_changes WHERE record_id <> ? AND (${since(counters)}) LIMIT ${MOST + 1}`,
    [THE_REST, ...[...counters].flat()],
  );
  const ids = rows.map(({ id }) => id);
  return ids.length > MOST || ids.includes(EVERYTHING) ? 'everything' : ids;
}

/** A record that was changed, and the content type it is of. */
export interface Written {
  id: number;
  typeId: string;
}

/** More records than these count as everything where it is asked what pages were made from. */
const MOST_TOLD = 2000;

/** The records that were changed since counters had come so far where nothing else of the site was; `everything` else. */
export async function writtenSince(counters: Counters): Promise<Written[] | 'everything'> {
  if (!counters.size) return 'everything';
  const rows = await select<{ id: number; typeId: string | null }>(
    `SELECT DISTINCT c.record_id AS id, r.type_id AS typeId FROM record_changes c LEFT JOIN records r ON r.id = c.record_id WHERE ${since(counters)} LIMIT ${MOST_TOLD + 1}`,
    [...counters].flat(),
  );
  const known = rows.flatMap(({ id, typeId }) => (typeId === null ? [] : [{ id, typeId }]));
  // What is none of the records is everything, the rest, or a record that is gone.
  return rows.length > MOST_TOLD || known.length < rows.length ? 'everything' : known;
}

/** Forgets changes from before so many minutes. */
export const deleteOldChanges = (minutes: number): Promise<void> =>
  run('DELETE FROM record_changes WHERE moment < NOW() - INTERVAL ? MINUTE LIMIT 50000', [minutes]);
