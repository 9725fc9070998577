import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';

/** How many counters share the count of a type, so that writers at the same time do not wait for one row. */
const SHARDS = 8;

/** Counts records in or out, by status. */
export async function countRecords(
  typeId: string,
  status: string,
  by: number,
  transaction: Transaction,
): Promise<void> {
  if (by !== 0)
    await run(
      'INSERT INTO record_counts (type_id, status, shard, n) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE n = n + VALUES(n)',
      [typeId, status, Math.floor(Math.random() * SHARDS), by],
      transaction,
    );
}

/** Counts all records anew. */
export async function recount(transaction?: Transaction): Promise<void> {
  await run('DELETE FROM record_counts', [], transaction);
  await run(
    'INSERT INTO record_counts (type_id, status, shard, n) SELECT type_id, status, 0, COUNT(*) FROM records GROUP BY type_id, status',
    [],
    transaction,
  );
}

export const clearCounts = (typeId: string, transaction: Transaction): Promise<void> =>
  run('DELETE FROM record_counts WHERE type_id = ?', [typeId], transaction);

/** How many records there are of each type and status. */
export const countsByStatus = async (): Promise<{ typeId: string; status: string; n: number }[]> =>
  (
    await select<{ typeId: string; status: string; n: number }>(
      'SELECT type_id AS typeId, status, SUM(n) AS n FROM record_counts GROUP BY type_id, status',
    )
  ).map((row) => ({ ...row, n: Number(row.n) }));

/** How many published records there are of each type; types without any are left out. */
export const publishedCounts = async (): Promise<Map<string, number>> =>
  new Map((await countsByStatus()).filter(({ status }) => status === 'published').map(({ typeId, n }) => [typeId, n]));

/** How many records of a type have a value, by field. */
export const filledCounts = async (typeId: string): Promise<Map<string, number>> =>
  new Map(
    (
      await select<{ id: string; n: number }>(
        'SELECT field_id AS id, COUNT(*) AS n FROM record_index FORCE INDEX (filled) WHERE type_id = ? AND part = 0 AND is_empty = FALSE GROUP BY field_id',
        [typeId],
      )
    ).map(({ id, n }) => [id, Number(n)]),
  );

/** How many records of a type have anything related on one side of a relation. */
export async function linkedCount(typeId: string, relationId: string, side: 'a' | 'b'): Promise<number> {
  const [row] = await select<{ n: number }>(
    `SELECT COUNT(DISTINCT l.${side}_id) AS n FROM links l JOIN records r ON r.id = l.${side}_id AND r.type_id = ? WHERE l.relation_id = ?`,
    [typeId, relationId],
  );
  return Number(row?.n ?? 0);
}
