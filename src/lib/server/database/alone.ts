import { randomUUID } from 'node:crypto';
import { database, isCluster, run, select } from './connect';

/** Runs `body` while no other process runs one under the same name on this database; waits for its turn. */
export const alone = <T>(name: string, body: () => Promise<T>): Promise<T> => {
  const lock = `${database().config.database} ${name}`.slice(-64);
  return isCluster() ? byLease(lock, body) : byLock(lock, body);
};

const tooLong = (lock: string) =>
  new Error(`Another process has been at “${lock}” for ten minutes; see what it does, and start again.`);

/** The lock belongs to the connection, which a transaction keeps; the work itself goes by others. */
const byLock = <T>(lock: string, body: () => Promise<T>): Promise<T> =>
  database().transaction(async (transaction) => {
    const [got] = await select<{ n: number | null }>('SELECT GET_LOCK(?, 600) AS n', [lock], transaction);
    if (!got?.n) throw tooLong(lock);
    try {
      return await body();
    } finally {
      await select('SELECT RELEASE_LOCK(?)', [lock], transaction);
    }
  });

/** A lease holds for so many seconds, and is renewed long before. */
const LEASE = 20;

/** Locks are not shared by the nodes of a cluster, rows are: whoever's write is certified first has the lease. */
async function byLease<T>(lock: string, body: () => Promise<T>): Promise<T> {
  const holder = randomUUID();
  await run(
    'CREATE TABLE IF NOT EXISTS leases (name VARCHAR(64) PRIMARY KEY, holder CHAR(36) NOT NULL, ends DATETIME(3) NOT NULL)',
    [],
  );
  for (let tries = 0; ; tries++) {
    await run(
      `INSERT INTO leases (name, holder, ends) VALUES (?, ?, NOW(3) + INTERVAL ? SECOND)
       ON DUPLICATE KEY UPDATE holder = IF(ends < NOW(3), VALUES(holder), holder), ends = IF(holder = VALUES(holder), VALUES(ends), ends)`,
      [lock, holder, LEASE],
    );
    const [row] = await select<{ holder: string }>('SELECT holder FROM leases WHERE name = ?', [lock]);
    if (row?.holder === holder) break;
    if (tries === 600) throw tooLong(lock);
    await new Promise((done) => setTimeout(done, 1000));
  }
  const renewed = setInterval(() => {
    run('UPDATE leases SET ends = NOW(3) + INTERVAL ? SECOND WHERE name = ? AND holder = ?', [
      LEASE,
      lock,
      holder,
    ]).catch(() => undefined);
  }, LEASE * 250);
  try {
    return await body();
  } finally {
    clearInterval(renewed);
    await run('DELETE FROM leases WHERE name = ? AND holder = ?', [lock, holder]).catch(() => undefined);
  }
}
