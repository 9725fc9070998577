import { QueryTypes, type Sequelize } from 'sequelize';
import { readingFrom } from './aside';
import { connectTo, isUnreachable } from './connect';
import { addressOf } from '../base/database-address';
import { log } from '../base/log';
import { perServer } from '../base/server';
import { Nodes } from './nodes';

/** So long it is taken for true how far a replica had come, in milliseconds; it only comes further. */
const KNOWN = 1000;
/** So long one is not asked again that had not come far enough, and one that failed. */
const BEHIND = 20;
const FAILED = 5000;
/** How long a replica may take to say how far it has come. */
const PATIENCE = 500;

interface Replica {
  /** What `PLUM_REPLICAS` says, and which of those it is. */
  of: string;
  at: number;
  handle: Sequelize;
  reached: number;
  asked: number;
  asking?: Promise<void> | undefined;
  /** Not asked before that. */
  rests: number;
}
interface Replicas {
  replica: Replica | undefined;
  /** It was logged that none can be read, and none was since. */
  isFailureLogged: boolean;
}
const replicas = perServer(
  ({ replicas: of }): Replicas => ({ replica: of ? open(of, 0, 0) : undefined, isFailureLogged: false }),
  ({ replica }) => replica?.handle.close().catch(() => undefined),
);

/** Opens one of the replicas; what it has is known of it alone. */
function open(of: string, at: number, rests: number): Replica {
  const address = addressOf(of);
  const one = address?.hosts[at];
  if (!address || !one) throw new Error('PLUM_REPLICAS is no address of a database.');
  const host = one.host.includes(':') ? `[${one.host}]` : one.host;
  const url = address.url.replace(/@[^/]+\//, () => `@${host}:${one.port}/`);
  // Nothing is written there, not by mistake either.
  const handle = connectTo(url, new Nodes([one]), 8, { tx_read_only: 1 });
  return { of, at, handle, reached: -1, asked: -Infinity, rests };
}

async function ask(one: Replica): Promise<void> {
  const from = performance.now();
  try {
    const counted = one.handle.query<{ n: string | number | null }>('SELECT SUM(n) AS n FROM content_changes', {
      type: QueryTypes.SELECT,
    });
    counted.catch(() => undefined);
    let late: NodeJS.Timeout | undefined;
    const tooLate = new Promise<never>((_, fail) => {
      late = setTimeout(() => fail(new Error('It says nothing.')), PATIENCE);
    });
    const [row] = await Promise.race([counted, tooLate]).finally(() => clearTimeout(late));
    one.reached = Number(row?.n ?? -1);
    one.asked = from;
    replicas().isFailureLogged = false;
  } catch (error) {
    passOver(one, error);
  }
}

/** Goes on to the next replica; where there is no other it is the same one, after a while. */
function passOver(one: Replica, error: unknown): void {
  const own = replicas();
  if (own.replica !== one) return;
  if (!own.isFailureLogged)
    log().warn({ error: (error as Error).message }, 'A replica cannot be read; the next is, or the database itself');
  own.isFailureLogged = true;
  const several = addressOf(one.of)?.hosts.length ?? 1;
  const at = (one.at + 1) % several;
  own.replica = open(one.of, at, performance.now() + (at ? 0 : FAILED));
  one.handle.close().catch(() => undefined);
}

/** A replica that has everything that was written up to a version; undefined where none is known to. */
async function upTo(version: number): Promise<Replica | undefined> {
  const one = replicas().replica;
  const now = performance.now();
  if (!one || now < one.rests) return undefined;
  if (one.reached >= version && now - one.asked < KNOWN) return one;
  if (now - one.asked > BEHIND) await (one.asking ??= ask(one).finally(() => (one.asking = undefined)));
  return one.reached >= version ? one : undefined;
}

/**
 * Reads from a replica, where one has everything up to this version of the content, so that nobody can tell; from the
 * database itself where none has, or where it fails meanwhile. `body` only reads, and may be begun twice.
 */
export async function readAside<T>(version: string, body: () => Promise<T>): Promise<T> {
  const one = await upTo(Number(version));
  if (!one) return body();
  try {
    return await readingFrom(one.handle, body);
  } catch (error) {
    if (!isUnreachable(error)) throw error;
    passOver(one, error);
    return body();
  }
}
