import type { Transaction } from 'sequelize';
import { plainRows, table, type TableName } from '../database/tables';

/** Whether there is any content yet. */
export async function isEmptySite(transaction?: Transaction): Promise<boolean> {
  const counts = await Promise.all(
    (['contentTypes', 'taxonomies', 'records', 'media', 'templates'] as const).map((name) =>
      table(name).count({ transaction }),
    ),
  );
  return counts.every((n) => n === 0);
}

/** Puts rows into a table, a thousand at a time. */
export async function insertInto(into: TableName, rows: readonly object[], transaction: Transaction): Promise<void> {
  for (let i = 0; i < rows.length; i += 1000)
    await table(into).bulkCreate(rows.slice(i, i + 1000) as Record<string, unknown>[], { transaction });
}

/** Notes what is left to be done with what was written; what is noted already stays. */
export const noteWork = async (names: readonly string[], transaction: Transaction): Promise<void> => {
  if (names.length)
    await table('workLeft').bulkCreate(
      names.map((name) => ({ name })),
      { ignoreDuplicates: true, transaction },
    );
};

/** The numbers of all records of a type. */
export const recordIdsOfType = async (typeId: string, transaction: Transaction): Promise<number[]> =>
  plainRows<{ id: number }>(await table('records').findAll({ attributes: ['id'], where: { typeId }, transaction })).map(
    ({ id }) => id,
  );
