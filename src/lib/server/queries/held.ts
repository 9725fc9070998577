import { run, select } from '../database/connect';

/** A file that waits for whoever sent it or had it made: to be imported, or to be taken home. */
export interface HeldRow {
  id: string;
  /** The account; 0 for the application itself. */
  accountId: number;
  /** Its name among the files that wait. */
  file: string;
  name: string;
  /** Bytes. */
  size: number;
}

const COLUMNS = 'id, account_id AS accountId, file, name, size';
const sized = (row: HeldRow): HeldRow => ({ ...row, size: Number(row.size) });

export const addHeld = ({ id, accountId, file, name, size }: HeldRow): Promise<void> =>
  run('INSERT INTO held_files (id, account_id, file, name, size, since) VALUES (?, ?, ?, ?, ?, NOW(3))', [
    ...[id, accountId, file, name.slice(0, 300), size],
  ]);

/** A file that has not waited for longer than so many seconds. */
export const heldById = async (id: string, longest: number): Promise<HeldRow | undefined> =>
  (
    await select<HeldRow>(`SELECT ${COLUMNS} FROM held_files WHERE id = ? AND since > NOW(3) - INTERVAL ? SECOND`, [
      ...[id, longest],
    ])
  ).map(sized)[0];

/** The files of somebody, those first that have waited longest. */
export const heldBy = async (accountId: number): Promise<HeldRow[]> =>
  (await select<HeldRow>(`SELECT ${COLUMNS} FROM held_files WHERE account_id = ? ORDER BY since, id`, [accountId])).map(
    sized,
  );

export const heldTooLong = async (longest: number): Promise<HeldRow[]> =>
  (await select<HeldRow>(`SELECT ${COLUMNS} FROM held_files WHERE since <= NOW(3) - INTERVAL ? SECOND`, [longest])).map(
    sized,
  );

export const forgetHeldRow = (id: string): Promise<void> => run('DELETE FROM held_files WHERE id = ?', [id]);
