import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { problemsOf } from '../../core/base/result';
import { run, select } from '../database/connect';
import { notFound, Refusal } from '../refusal';

/** A link by which somebody without an account sees the draft, until it expires. */
export interface Share {
  id: number;
  note: string;
  /** Instants, RFC 3339. */
  created: string;
  expires: string;
}

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

export const ShareAsked = z.strictObject({
  note: z.string().trim().max(200).default(''),
  days: z
    .number({ error: 'Say for how many days it holds.' })
    .min(1, { error: 'A link holds for a day at least.' })
    .max(90, { error: 'A link holds for 90 days at most.' })
    .default(7),
});

/** Makes a link; its token is told this once, and kept as a hash only. */
export async function shareDraft(input: unknown): Promise<Share & { token: string }> {
  const parsed = ShareAsked.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The draft cannot be shared so.', problemsOf(parsed.error));
  const { note, days } = parsed.data;
  const token = randomBytes(24).toString('base64url');
  const created = new Date();
  const expires = new Date(created.getTime() + days * 86_400_000);
  const [row] = await select<{ id: number }>(
    'INSERT INTO share_links (token_hash, note, created, expires) VALUES (?, ?, ?, ?) RETURNING id',
    [hashOf(token), note, created, expires],
  );
  return { id: row?.id ?? 0, note, created: created.toISOString(), expires: expires.toISOString(), token };
}

/** Links that still hold, the newest first. */
export async function readShares(): Promise<Share[]> {
  const rows = await select<{ id: number; note: string; created: Date; expires: Date }>(
    'SELECT id, note, created, expires FROM share_links WHERE expires > ? ORDER BY id DESC LIMIT 200',
    [new Date()],
  );
  return rows.map((row) => ({ ...row, created: row.created.toISOString(), expires: row.expires.toISOString() }));
}

export async function endShare(id: number): Promise<void> {
  const [row] = await select('SELECT id FROM share_links WHERE id = ?', [id]);
  if (!row) throw notFound('link with this number');
  await run('DELETE FROM share_links WHERE id = ?', [id]);
}

/** When the link of a token expires; undefined where there is none, or it has. */
export async function shareHolds(token: string): Promise<Date | undefined> {
  if (!/^[\w-]{20,60}$/.test(token)) return undefined;
  const [row] = await select<{ expires: Date }>(
    'SELECT expires FROM share_links WHERE token_hash = ? AND expires > ?',
    [hashOf(token), new Date()],
  );
  return row?.expires;
}
