import { run, select } from '../database/connect';

export interface ShareRow {
  id: number;
  note: string;
  created: Date;
  expires: Date;
}

/** A link by the hash of its token; its number. */
export async function insertShare(hash: string, { note, created, expires }: Omit<ShareRow, 'id'>): Promise<number> {
  const [made] = await select<{ id: number }>(
    'INSERT INTO share_links (token_hash, note, created, expires) VALUES (?, ?, ?, ?) RETURNING id',
    [hash, note, created, expires],
  );
  return made!.id;
}

/** The newest 200 links that still hold. */
export const sharesHolding = (now: Date): Promise<ShareRow[]> =>
  select<ShareRow>('SELECT id, note, created, expires FROM share_links WHERE expires > ? ORDER BY id DESC LIMIT 200', [
    now,
  ]);

/** Deletes a link; false where there is none. */
export async function deleteShare(id: number): Promise<boolean> {
  const found = await select('SELECT id FROM share_links WHERE id = ?', [id]);
  if (found.length) await run('DELETE FROM share_links WHERE id = ?', [id]);
  return found.length > 0;
}

/** Until when the link with this hash holds; undefined where it does not. */
export async function shareExpires(hash: string, now: Date): Promise<Date | undefined> {
  const [row] = await select<{ expires: Date }>(
    'SELECT expires FROM share_links WHERE token_hash = ? AND expires > ?',
    [hash, now],
  );
  return row?.expires;
}
