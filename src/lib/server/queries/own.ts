import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';
import { listed } from './sql';

const found = async (sql: string, values: unknown[]): Promise<boolean> => (await select(sql, values)).length > 0;

/** Whether an account made a record, or it was shared with it. */
export const isOwnRecord = (id: number, accountId: number): Promise<boolean> =>
  found(
    `SELECT r.id FROM records r LEFT JOIN record_shares s ON s.record_id = r.id AND s.account_id = ?
     WHERE r.id = ? AND (r.made_by = ? OR s.account_id IS NOT NULL)`,
    [accountId, id, accountId],
  );
export const isOwnMedia = (id: number, accountId: number): Promise<boolean> =>
  found('SELECT id FROM media WHERE id = ? AND made_by = ?', [id, accountId]);
export const isOwnRemoval = (id: string, accountId: number): Promise<boolean> =>
  found('SELECT id FROM removals WHERE id = ? AND made_by = ?', [id, accountId]);

/** Notes who made something. */
export const noteCreator = (
  table: 'records' | 'media' | 'removals',
  ids: readonly (number | string)[],
  accountId: number,
  transaction?: Transaction,
): Promise<void> =>
  ids.length
    ? run(`UPDATE ${table} SET made_by = ? WHERE id IN (?)`, [accountId, ids], transaction)
    : Promise.resolve();

export interface RecordSharingRow {
  madeBy: number | null;
  maker: string | null;
  proposed: Date | null;
}
/** Who made a record, and since when it waits to be published. */
export async function recordSharing(id: number): Promise<RecordSharingRow | undefined> {
  const [row] = await select<RecordSharingRow>(
    'SELECT r.made_by AS madeBy, a.name AS maker, r.proposed FROM records r LEFT JOIN accounts a ON a.id = r.made_by WHERE r.id = ?',
    [id],
  );
  return row;
}

/** With whom a record was shared. */
export const sharedWith = (id: number): Promise<{ id: number; name: string }[]> =>
  select<{ id: number; name: string }>(
    'SELECT a.id, a.name FROM record_shares s JOIN accounts a ON a.id = s.account_id WHERE s.record_id = ? ORDER BY a.name',
    [id],
  );
export async function shareRecord(id: number, accountIds: readonly number[], transaction: Transaction): Promise<void> {
  await run('DELETE FROM record_shares WHERE record_id = ?', [id], transaction);
  if (accountIds.length)
    await run(
      'INSERT INTO record_shares (record_id, account_id) SELECT ?, id FROM accounts WHERE id IN (?)',
      [id, accountIds],
      transaction,
    );
}

export const proposeRecord = (id: number, since: Date | null): Promise<void> =>
  run("UPDATE records SET proposed = ? WHERE id = ? AND (? IS NULL OR status = 'draft')", [since, id, since]);

export interface Proposal {
  id: number;
  typeId: string;
  title: string;
  who: string | null;
  proposed: Date;
}
/** Drafts that wait to be looked at and published, those that wait longest first. */
export const proposals = (limit: number): Promise<Proposal[]> =>
  select<Proposal>(
    `SELECT r.id, r.type_id AS typeId, r.title, a.name AS who, r.proposed FROM records r LEFT JOIN accounts a ON a.id = r.made_by
     WHERE r.proposed IS NOT NULL AND r.status = 'draft' ORDER BY r.proposed, r.id LIMIT ?`,
    [limit],
  );

/** Numbers of an account's own records among these. */
export const ownAmong = async (ids: readonly number[], accountId: number): Promise<number[]> =>
  ids.length
    ? (
        await select<{ id: number }>(
          `SELECT r.id FROM records r LEFT JOIN record_shares s ON s.record_id = r.id AND s.account_id = ?
           WHERE r.id IN (?) AND (r.made_by = ? OR s.account_id IS NOT NULL)`,
          [accountId, ids, accountId],
        )
      ).map(({ id }) => id)
    : [];

/** Whether visitors may have a picture or file: a published record of these types, a term or an author has it. */
export const isMediaPublished = (id: number, typeIds: readonly string[]): Promise<boolean> =>
  found(
    `SELECT 1 FROM mentions m JOIN records r ON r.id = m.record_id AND r.status = 'published' AND r.type_id IN (?)
     WHERE m.target = 'media' AND m.target_id = ?
     UNION SELECT 1 FROM terms WHERE picture_id = ? UNION SELECT 1 FROM authors WHERE picture_id = ? LIMIT 1`,
    [listed(typeIds), id, id, id],
  );
