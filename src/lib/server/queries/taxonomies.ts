import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';

/** The name of another taxonomy that has this key. */
export async function taxonomyWithKey(key: string, but: string, transaction: Transaction): Promise<string | undefined> {
  const [row] = await select<{ name: string }>(
    'SELECT name FROM taxonomies WHERE `key` = ? AND id <> ?',
    [key, but],
    transaction,
  );
  return row?.name;
}

/** Whether any term of a taxonomy lies below another. */
export const hasDeepTerms = async (taxonomyId: string, transaction: Transaction): Promise<boolean> =>
  (
    await select(
      'SELECT id FROM terms WHERE taxonomy_id = ? AND parent_id IS NOT NULL LIMIT 1',
      [taxonomyId],
      transaction,
    )
  ).length > 0;

export const hangTerm = (id: string, below: string | null, transaction: Transaction): Promise<void> =>
  run('UPDATE terms SET parent_id = ? WHERE id = ?', [below, id], transaction);

/** Hangs the terms below one under another, but for that one itself. */
export const hangChildren = (of: string, below: string | null, transaction: Transaction): Promise<void> =>
  run('UPDATE terms SET parent_id = ? WHERE parent_id = ? AND id <> ?', [below, of, below ?? ''], transaction);

/** Deletes all terms of a taxonomy. */
export async function clearTerms(taxonomyId: string, transaction: Transaction): Promise<void> {
  await run('UPDATE terms SET parent_id = NULL WHERE taxonomy_id = ?', [taxonomyId], transaction);
  await run('DELETE FROM terms WHERE taxonomy_id = ?', [taxonomyId], transaction);
}

/** The slugs of all authors but one. */
export const authorSlugs = async (but: number, transaction: Transaction): Promise<string[]> =>
  (await select<{ slug: string }>('SELECT slug FROM authors WHERE id <> ?', [but], transaction)).map(
    ({ slug }) => slug,
  );
