import type { Transaction } from 'sequelize';
import { run } from '../database/connect';

/** What has slugs: records within their type, terms within their taxonomy, and authors. */
export type SlugKind = 'record' | 'term' | 'author';

/** Notes that something had a slug until now, so that its former address leads to it for good. */
export async function noteFormerSlug(
  kind: SlugKind,
  within: string,
  slug: string,
  id: string | number,
  transaction?: Transaction,
): Promise<void> {
  await run(
    'REPLACE INTO former_slugs (kind, within, slug, target_id, created) VALUES (?, ?, ?, ?, ?)',
    [kind, within, slug, String(id), new Date()],
    transaction,
  );
}
