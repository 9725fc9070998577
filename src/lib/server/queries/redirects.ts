import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';

/** What had a slug: a record of a type, a term of a taxonomy, an author. */
export type SlugKind = 'record' | 'term' | 'author';

/** Notes that something had a slug, within its type or taxonomy. */
export const noteFormerSlug = (
  kind: SlugKind,
  within: string,
  slug: string,
  id: string | number,
  transaction: Transaction,
): Promise<void> =>
  run(
    'REPLACE INTO former_slugs (kind, within, slug, target_id, created) VALUES (?, ?, ?, ?, ?)',
    [kind, within, slug, String(id), new Date()],
    transaction,
  );

/** Who had this slug before, the last one first. */
export const formerOwnersOfSlug = async (kind: SlugKind, within: string, slug: string): Promise<string[]> =>
  (
    await select<{ id: string }>(
      'SELECT target_id AS id FROM former_slugs WHERE kind = ? AND within = ? AND slug = ? ORDER BY created DESC LIMIT 5',
      [kind, within, slug],
    )
  ).map(({ id }) => id);

export interface Redirect {
  path: string;
  target: string;
}

/** Redirects by path, whose path or target matches a `LIKE` pattern. */
export async function searchRedirects(like: string, limit: number): Promise<{ redirects: Redirect[]; total: number }> {
  const [redirects, [count]] = await Promise.all([
    select<Redirect>('SELECT path, target FROM redirects WHERE path LIKE ? OR target LIKE ? ORDER BY path LIMIT ?', [
      like,
      like,
      limit,
    ]),
    select<{ n: number }>('SELECT COUNT(*) AS n FROM redirects WHERE path LIKE ? OR target LIKE ?', [like, like]),
  ]);
  return { redirects, total: Number(count?.n ?? 0) };
}

/** All redirects, held to the end of the transaction. */
export const lockRedirects = (transaction: Transaction): Promise<Redirect[]> =>
  select<Redirect>('SELECT path, target FROM redirects FOR UPDATE', [], transaction);

/** Where a path leads. */
export async function redirectOf(path: string): Promise<string | undefined> {
  const [row] = await select<{ target: string }>('SELECT target FROM redirects WHERE path = ?', [path]);
  return row?.target;
}

/** Writes redirects; those that stand at the same path are replaced. */
export async function writeRedirects(redirects: Redirect[], created: Date, transaction: Transaction): Promise<void> {
  const rows = redirects.map(({ path, target }) => [path, target, created]);
  for (let i = 0; i < rows.length; i += 1000)
    await run('REPLACE INTO redirects (path, target, created) VALUES ?', [rows.slice(i, i + 1000)], transaction);
}

export const removeRedirect = (path: string, transaction: Transaction): Promise<void> =>
  run('DELETE FROM redirects WHERE path = ?', [path], transaction);
