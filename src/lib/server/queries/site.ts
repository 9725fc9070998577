import type { Transaction } from 'sequelize';
import { run, select, selectQuickly } from '../database/connect';

/** Waits until nobody else writes the model; held to the end of the transaction. */
export const lockSite = async (transaction: Transaction): Promise<void> => {
  await select('SELECT id FROM sites WHERE id = 1 FOR UPDATE', [], transaction);
};

/** Waits for whoever changes the model or releases, and keeps others from beginning to, to the end of the transaction. */
export const shareLockModel = async (transaction: Transaction): Promise<void> => {
  await select('SELECT id FROM sites WHERE id = 1 LOCK IN SHARE MODE', [], transaction);
};

/** Which version of the model stands, and the number of the release that visitors see; 0 before there is any. */
export async function modelVersion(transaction?: Transaction): Promise<{ version: number; shown: number }> {
  const sql = 'SELECT model_version AS version, release_id AS shown FROM sites WHERE id = 1';
  const [row] = await (transaction
    ? select<{ version: number; shown: number | null }>(sql, [], transaction)
    : selectQuickly<{ version: number; shown: number | null }>(sql));
  return { version: row?.version ?? 0, shown: row?.shown ?? 0 };
}

/** Tells every process that the model is no longer what it was. */
export const modelMoved = (transaction?: Transaction): Promise<void> =>
  run('UPDATE sites SET model_version = model_version + 1 WHERE id = 1', [], transaction);

/** The number of the release that visitors see; 0 before there is any. */
export async function releaseShown(transaction?: Transaction): Promise<number> {
  const sql = 'SELECT release_id AS id FROM sites WHERE id = 1';
  const [row] = await (transaction
    ? select<{ id: number | null }>(sql, [], transaction)
    : selectQuickly<{ id: number | null }>(sql));
  return row?.id ?? 0;
}

/** Has visitors see a release, and tells every process so. */
export const showRelease = (id: number, transaction: Transaction): Promise<void> =>
  run('UPDATE sites SET release_id = ?, model_version = model_version + 1 WHERE id = 1', [id], transaction);

/** Whether the database answers. */
export const databaseAnswers = (): Promise<boolean> =>
  selectQuickly('SELECT 1').then(
    () => true,
    () => false,
  );
