import { fromJson, run, select } from '../database/connect';

/** The response to a request, or none yet where the request is still being worked on. */
export interface StoredResponse {
  /** Hash of the request that it answers. */
  request: string;
  status: number | null;
  headers: Record<string, string>;
  body: string;
  created: Date;
}

/** Takes a key for a request; false where it is taken already, in any process. */
export async function takeKey(name: string, request: string, now: Date): Promise<boolean> {
  const rows = await select<{ name: string }>(
    'INSERT IGNORE INTO idempotency_keys (name, request, created) VALUES (?, ?, ?) RETURNING name',
    [name, request, now],
  );
  return rows.length > 0;
}

export async function storedResponse(name: string): Promise<StoredResponse | undefined> {
  const [row] = await select<Omit<StoredResponse, 'headers' | 'body'> & { headers: unknown; body: string | null }>(
    'SELECT request, status, headers, body, created FROM idempotency_keys WHERE name = ?',
    [name],
  );
  return row && { ...row, headers: row.headers === null ? {} : fromJson(row.headers), body: row.body ?? '' };
}

export const storeResponse = (
  name: string,
  { status, headers, body }: Pick<StoredResponse, 'status' | 'headers' | 'body'>,
): Promise<void> =>
  run('UPDATE idempotency_keys SET status = ?, headers = ?, body = ? WHERE name = ?', [
    status,
    JSON.stringify(headers),
    body,
    name,
  ]);

export const freeKey = (name: string): Promise<void> => run('DELETE FROM idempotency_keys WHERE name = ?', [name]);

export const deleteKeys = (before: Date): Promise<void> =>
  run('DELETE FROM idempotency_keys WHERE created < ? LIMIT 10000', [before]);
