import { run, select } from '../database/connect';

/** A file that waits for whoever sent it or had it made: to be imported, or to be taken home. */
export interface UploadRow {
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
const sized = (row: UploadRow): UploadRow => ({ ...row, size: Number(row.size) });

export const addUpload = ({ id, accountId, file, name, size }: UploadRow): Promise<void> =>
  run('INSERT INTO held_files (id, account_id, file, name, size, since) VALUES (?, ?, ?, ?, ?, NOW(3))', [
    id,
    accountId,
    file,
    name.slice(0, 300),
    size,
  ]);

/** A file that has not waited for longer than so many seconds. */
export const uploadById = async (id: string, longest: number): Promise<UploadRow | undefined> =>
  (
    await select<UploadRow>(`SELECT ${COLUMNS} FROM held_files WHERE id = ? AND since > NOW(3) - INTERVAL ? SECOND`, [
      id,
      longest,
    ])
  ).map(sized)[0];

/** The files of somebody, those first that have waited longest. */
export const uploadsOf = async (accountId: number): Promise<UploadRow[]> =>
  (
    await select<UploadRow>(`SELECT ${COLUMNS} FROM held_files WHERE account_id = ? ORDER BY since, id`, [accountId])
  ).map(sized);

export const oldUploads = async (longest: number): Promise<UploadRow[]> =>
  (
    await select<UploadRow>(`SELECT ${COLUMNS} FROM held_files WHERE since <= NOW(3) - INTERVAL ? SECOND`, [longest])
  ).map(sized);

export const deleteUploadRow = (id: string): Promise<void> => run('DELETE FROM held_files WHERE id = ?', [id]);
