import type { Transaction } from 'sequelize';
import { fromJson, run, select } from '../database/connect';

/** Where the fields of a type stand. */
export const placesOfFields = (typeId: string, transaction: Transaction): Promise<{ id: string; position: number }[]> =>
  select<{ id: string; position: number }>('SELECT id, position FROM fields WHERE type_id = ?', [typeId], transaction);

/** Gives these their places in this order. */
export async function putInOrder(
  table: 'fields' | 'content_types' | 'terms',
  ids: readonly string[],
  transaction: Transaction,
): Promise<void> {
  for (const [i, id] of ids.entries()) await run(`UPDATE ${table} SET position = ? WHERE id = ?`, [i, id], transaction);
}

/** Takes the keys of a type's fields out of the way, so that they may be given anew in any order. */
export const freeKeys = (typeId: string, transaction: Transaction): Promise<void> =>
  run("UPDATE fields SET `key` = CONCAT('was_', id) WHERE type_id = ?", [typeId], transaction);

/** Marks what is removed from the draft, and kept for what visitors see. Its key and base are free for another. */
export const keepRemoved = (
  table: 'content_types' | 'taxonomies',
  id: string,
  transaction: Transaction,
): Promise<void> =>
  run(
    `UPDATE ${table} SET is_removed = TRUE, \`key\` = CONCAT('~', id)${table === 'content_types' ? ", base = CONCAT('~', id)" : ''} WHERE id = ?`,
    [id],
    transaction,
  );

export const setSettings = (fieldId: string, settings: object, transaction: Transaction): Promise<void> =>
  run('UPDATE fields SET settings = ? WHERE id = ?', [JSON.stringify(settings), fieldId], transaction);

/** Under which taxonomies each type is filed. */
export const taxonomiesOfTypes = async (transaction: Transaction): Promise<{ id: string; taxonomyIds: string[] }[]> =>
  (
    await select<{ id: string; taxonomyIds: unknown }>(
      'SELECT id, taxonomy_ids AS taxonomyIds FROM content_types WHERE NOT is_removed',
      [],
      transaction,
    )
  ).map(({ id, taxonomyIds }) => ({ id, taxonomyIds: fromJson<string[]>(taxonomyIds) }));

export const setTaxonomies = (typeId: string, taxonomyIds: string[], transaction: Transaction): Promise<void> =>
  run('UPDATE content_types SET taxonomy_ids = ? WHERE id = ?', [JSON.stringify(taxonomyIds), typeId], transaction);
