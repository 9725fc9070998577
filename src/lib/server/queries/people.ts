import type { Transaction } from 'sequelize';
import type { Role } from '../../core/people/roles';
import { inTransaction, run, select, selectQuickly } from '../database/connect';

export interface SessionRow {
  id: string;
  accountId: number;
  name: string;
  role: Role;
  mayPublish: boolean;
  seen: Date;
  confirmed: Date;
}

/** The session with this hash, and whose it is, where it still holds and its account is open. */
export async function sessionOf(hash: string, now: Date, seenSince: Date): Promise<SessionRow | undefined> {
  const [row] = await selectQuickly<SessionRow & { mayPublish: unknown }>(
    `SELECT s.id, s.account_id AS accountId, s.seen, s.confirmed, a.name, a.role, a.may_publish AS mayPublish FROM sessions s
     JOIN accounts a ON a.id = s.account_id WHERE s.token_hash = ? AND s.ends > ? AND s.seen > ? AND NOT a.is_closed`,
    [hash, now, seenSince],
  );
  return row && { ...row, mayPublish: Boolean(row.mayPublish) };
}

export interface TokenRow {
  id: string;
  accountId: number;
  name: string;
  role: Role;
  mayPublish: boolean;
  scopes: unknown;
  used: Date | null;
}

/** The token for programs with this hash, and whose it is, where it still holds. */
export async function apiTokenOf(hash: string, now: Date): Promise<TokenRow | undefined> {
  const [row] = await selectQuickly<TokenRow & { mayPublish: unknown }>(
    `SELECT t.id, t.account_id AS accountId, t.scopes, t.used, a.name, a.role, a.may_publish AS mayPublish FROM api_tokens t
     JOIN accounts a ON a.id = t.account_id WHERE t.token_hash = ? AND t.ends > ? AND NOT a.is_closed`,
    [hash, now],
  );
  return row && { ...row, mayPublish: Boolean(row.mayPublish) };
}

/** Takes a pass that still holds, so that nobody else can; undefined where it is gone or was for something else. */
export async function takePass(
  hash: string,
  purpose: string,
  now: Date,
  transaction: Transaction,
): Promise<{ accountId: number | null; data: unknown } | undefined> {
  const [row] = await select<{ accountId: number | null; data: unknown; ends: Date }>(
    'SELECT account_id AS accountId, data, ends FROM passes WHERE token_hash = ? AND purpose = ? FOR UPDATE',
    [hash, purpose],
    transaction,
  );
  if (!row) return undefined;
  await run('DELETE FROM passes WHERE token_hash = ?', [hash], transaction);
  return row.ends > now ? row : undefined;
}

/**
 * Counts one more try under a name and gives how many there were since its time began, with when that time ends. Counted
 * by the database in one statement, so that processes count together.
 */
export async function countTry(name: string, now: Date, ends: Date): Promise<{ n: number; ends: Date }> {
  const [row] = await select<{ n: number; ends: Date }>(
    `INSERT INTO throttles (name, n, ends) VALUES (?, 1, ?)
     ON DUPLICATE KEY UPDATE n = IF(ends <= ?, 1, n + 1), ends = IF(ends <= ?, VALUES(ends), ends) RETURNING n, ends`,
    [name, ends, now, now],
  );
  return row ?? { n: 1, ends };
}

/**
 * Counts one more try under a name, unless it comes too soon after the one before: gives how many milliseconds are left to wait, 0
 * where the try is taken. Tries that come at once are taken one after the other.
 */
export function slowTry(name: string, now: Date, ends: Date, waitAfter: (tries: number) => number): Promise<number> {
  return inTransaction(
    async (transaction) => {
      await run('INSERT IGNORE INTO throttles (name, n, ends) VALUES (?, 0, ?)', [name, ends], transaction);
      const [row] = await select<{ n: number; ends: Date; last: Date | null }>(
        'SELECT n, ends, last_try AS last FROM throttles WHERE name = ? FOR UPDATE',
        [name],
        transaction,
      );
      const tries = row && row.ends > now ? Number(row.n) : 0;
      const left = row?.last ? row.last.getTime() + waitAfter(tries) - now.getTime() : 0;
      if (tries > 0 && left > 0) return left;
      await run(
        'UPDATE throttles SET n = ?, last_try = ?, ends = ? WHERE name = ?',
        [tries + 1, now, ends, name],
        transaction,
      );
      return 0;
    },
    { writes: 'nothing' },
  );
}

export const deleteAttempts = (name: string): Promise<void> => run('DELETE FROM throttles WHERE name = ?', [name]);

/** Notes the step of a code as used; false where it, or a later one, was used before. */
export async function useCodeStep(accountId: number, step: number, transaction: Transaction): Promise<boolean> {
  const [row] = await select<{ step: number | string | null }>(
    'SELECT code_step AS step FROM accounts WHERE id = ? FOR UPDATE',
    [accountId],
    transaction,
  );
  if (!row || (row.step !== null && Number(row.step) >= step)) return false;
  await run('UPDATE accounts SET code_step = ? WHERE id = ?', [step, accountId], transaction);
  return true;
}

/** How many accounts that are open have this role, held to the end of the transaction. */
export async function countOpen(role: Role, transaction: Transaction): Promise<number> {
  const rows = await select('SELECT id FROM accounts WHERE role = ? AND NOT is_closed FOR UPDATE', [role], transaction);
  return rows.length;
}

/** Whether anybody has an account. */
export const isAnybodyThere = async (): Promise<boolean> =>
  (await selectQuickly('SELECT id FROM accounts LIMIT 1')).length > 0;

/** Forgets what no longer holds. */
export async function deleteExpired(now: Date): Promise<void> {
  // However many there are; a thousand at a time, so that nobody waits for a lock.
  for (const table of ['sessions', 'passes', 'throttles', 'devices'])
    while ((await select(`DELETE FROM ${table} WHERE ends < ? LIMIT 1000 RETURNING ends`, [now])).length === 1000);
}
