import { newId } from '../../core/base/ids';
import type { Person } from '../../core/people/roles';
import {
  deleteSession,
  deleteSessions,
  deleteSessionWith,
  insertSession,
  noteSessionConfirmed,
  noteSessionSeen,
  sessionRows,
} from '../queries/sessions';
import { sessionOf } from '../queries/people';
import { notFound } from '../base/refusal';
import { hashOf, isSecret, newSecret } from './secrets';
import { configuration } from '../base/server';

const MINUTE = 60_000;
/** A session ends when nothing was asked for so long, and after so long at the latest, in milliseconds. */
const idle = () => configuration().sessionIdle;
const longest = () => configuration().sessionLongest;
/** How long after a sign-in, or after the password was given again, what matters most may be changed. */
const FRESH = 15 * MINUTE;

export interface Session extends Person {
  session: string;
  /** Whether it was proved lately who it is. */
  fresh: boolean;
}

/** Begins a session and gives its secret. A new one at each sign-in, so that none that was set before is let in. */
export async function beginSession(accountId: number, address: string, browser: string): Promise<string> {
  const secret = newSecret();
  const now = new Date();
  await insertSession({
    tokenHash: hashOf(secret),
    id: newId('s'),
    accountId,
    created: now,
    seen: now,
    confirmed: now,
    ends: new Date(now.getTime() + longest()),
    address: address.slice(0, 45),
    browser: browser.slice(0, 200),
  });
  return secret;
}

/** Whose session this is, while it holds. */
export async function sessionWith(secret: string | undefined): Promise<Session | undefined> {
  if (!isSecret(secret)) return undefined;
  const now = Date.now();
  const tokenHash = hashOf(secret);
  const row = await sessionOf(tokenHash, new Date(now), new Date(now - idle()));
  if (!row) return undefined;
  // Written once a minute at most.
  if (now - row.seen.getTime() > MINUTE) await noteSessionSeen(tokenHash, new Date(now));
  const { accountId, name, role, mayPublish, id, confirmed } = row;
  return { id: accountId, name, role, mayPublish, session: id, fresh: now - confirmed.getTime() < FRESH };
}

export const confirmSession = (id: string): Promise<void> => noteSessionConfirmed(id, new Date());

export interface SessionSeen {
  id: string;
  /** Instants, RFC 3339. */
  created: string;
  seen: string;
  address: string;
  browser: string;
  /** Whether it is the one that asks. */
  own: boolean;
}

/** The sessions of an account that hold, the last seen first. */
export async function sessionsOf(accountId: number, own: string): Promise<SessionSeen[]> {
  const now = Date.now();
  const rows = await sessionRows(accountId, new Date(now), new Date(now - idle()));
  return rows.map(({ id, created, seen, address, browser }) => ({
    id,
    address,
    browser,
    own: id === own,
    created: created.toISOString(),
    seen: seen.toISOString(),
  }));
}

/** Ends one session of an account. */
export async function endSession(accountId: number, id: string): Promise<void> {
  if (!(await deleteSession(accountId, id))) throw notFound('session with this id');
}

/** Ends every session of an account, or all but one. */
export const endSessions = (accountId: number, but?: string): Promise<void> => deleteSessions(accountId, but);

export const endSessionWith = async (secret: string | undefined): Promise<void> => {
  if (isSecret(secret)) await deleteSessionWith(hashOf(secret));
};
