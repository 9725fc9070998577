import type { Transaction } from 'sequelize';
import { run } from '../database/connect';

type DesignTable = 'templates' | 'named_rules' | 'menus';

export const deleteDesigned = async (
  table: DesignTable,
  ids: readonly (string | number)[],
  transaction?: Transaction,
): Promise<void> => {
  if (ids.length) await run(`DELETE FROM ${table} WHERE id IN (?)`, [ids], transaction);
};

/** Deletes all of them. */
export const clearDesigned = (table: DesignTable, transaction: Transaction): Promise<void> =>
  run(`DELETE FROM ${table}`, [], transaction);

/** Puts templates in this order, the one that is asked first before the others. */
export async function writeOrder(ids: readonly string[], transaction: Transaction): Promise<void> {
  for (const [i, id] of ids.entries()) await run('UPDATE templates SET `order` = ? WHERE id = ?', [i, id], transaction);
}
