import { createHash, randomBytes } from 'node:crypto';
import { z } from 'zod';
import { deleteShare, insertShare, shareExpires, sharesHolding } from '../queries/shares';
import { notFound } from '../base/refusal';

/** Holds the token of a link by which somebody sees the draft. */
export const DRAFT_COOKIE = 'plum_draft';

/** A link by which somebody without an account sees the draft, until it expires. */
export interface ShareLink {
  id: number;
  note: string;
  /** Instants, RFC 3339. */
  created: string;
  expires: string;
}

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

export const ShareRequest = z.strictObject({
  note: z.string().trim().max(200).default(''),
  days: z
    .number({ error: 'Say for how many days it holds.' })
    .min(1, { error: 'A link holds for a day at least.' })
    .max(90, { error: 'A link holds for 90 days at most.' })
    .default(7),
});

/** Makes a link; its token is told this once, and kept as a hash only. */
export async function shareDraft(input: z.output<typeof ShareRequest>): Promise<ShareLink & { token: string }> {
  const { note, days } = input;
  const token = randomBytes(24).toString('base64url');
  const created = new Date();
  const expires = new Date(created.getTime() + days * 86_400_000);
  const id = await insertShare(hashOf(token), { note, created, expires });
  return { id, note, created: created.toISOString(), expires: expires.toISOString(), token };
}

/** Links that still hold, the newest first. */
export async function readShares(): Promise<ShareLink[]> {
  const rows = await sharesHolding(new Date());
  return rows.map((row) => ({ ...row, created: row.created.toISOString(), expires: row.expires.toISOString() }));
}

export async function endShare(id: number): Promise<void> {
  if (!(await deleteShare(id))) throw notFound('link with this number');
}

/** When the link of a token expires; undefined where there is none, or it has. */
export async function shareExpiry(token: string): Promise<Date | undefined> {
  if (!/^[\w-]{20,60}$/.test(token)) return undefined;
  return shareExpires(hashOf(token), new Date());
}
