import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, openSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { userInfo } from 'node:os';
import { freePort } from './ports.mjs';
import { programPath } from './setup.mjs';

const PASSWORD = 'a replica on loopback';

/** @param {number} ms */
const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/**
 * A MariaDB with replicas on loopback, over folders within `folder`, for tests: replicas are held up, killed and brought
 * back. @param {string} folder @param {number} [replicas]
 */
export async function startReplicated(folder, replicas = 1) {
  const { createConnection } = await import('mariadb');
  const asUser = process.getuid?.() === 0 ? [`--user=${userInfo().username}`] : [];
  /** @type {{ i: number, port: number, data: string, socket: string, child?: import('node:child_process').ChildProcess }[]} */
  const servers = [];
  for (let i = 0; i <= replicas; i++) {
    const data = join(folder, `server-${i}`);
    servers.push({ i, port: await freePort(), data, socket: join(tmpdir(), `plum-thread-${process.pid}-r${i}.sock`) });
  }
  const [first] = servers;
  if (!first) throw new Error('There is no server.');

  /** @param {typeof servers[number]} server */
  async function begin(server) {
    const log = openSync(`${server.data}.log`, 'a');
    server.child = spawn(
      String(programPath('mariadbd')),
      [
        '--no-defaults',
        `--datadir=${server.data}`,
        `--socket=${server.socket}`,
        `--port=${server.port}`,
        '--bind-address=127.0.0.1',
        '--skip-name-resolve',
        '--innodb-buffer-pool-size=64M',
        '--innodb-flush-log-at-trx-commit=2',
        '--binlog-format=ROW',
        `--server-id=${server.i + 1}`,
        ...(server.i ? ['--read-only'] : ['--log-bin=changes']),
        ...asUser,
      ],
      { stdio: ['ignore', log, log] },
    );
    for (let tries = 0; tries < 300; tries++) {
      const connection = await createConnection({ socketPath: server.socket, user: 'root' }).catch(() => undefined);
      await connection?.end();
      if (connection) return;
      await pause(100);
    }
    throw new Error(
      `A server did not come up:\n${readFileSync(`${server.data}.log`, 'utf8').split('\n').slice(-20).join('\n')}`,
    );
  }
  /** @param {number} i @param {string} sql */
  const tell = async (i, sql) => {
    const connection = await createConnection({ socketPath: servers[i]?.socket ?? '', user: 'root' });
    try {
      return await connection.query(sql);
    } finally {
      await connection.end();
    }
  };
  await Promise.all(
    servers.map(async (server) => {
      mkdirSync(server.data, { recursive: true });
      const made = spawnSync(
        String(programPath('mariadb-install-db')),
        [
          '--no-defaults',
          `--datadir=${server.data}`,
          '--auth-root-authentication-method=normal',
          '--skip-test-db',
          ...asUser,
        ],
        { encoding: 'utf8' },
      );
      if (made.status !== 0) throw new Error(`A server could not be made:\n${made.stderr}`);
      await begin(server);
    }),
  );
  for (const { i } of servers.slice(1)) {
    await tell(
      i,
      `CHANGE MASTER TO MASTER_HOST='127.0.0.1', MASTER_PORT=${first.port}, MASTER_USER='copier', MASTER_PASSWORD='${PASSWORD}', MASTER_USE_GTID=slave_pos, MASTER_CONNECT_RETRY=1`,
    );
  }
  await tell(0, `CREATE USER copier@'127.0.0.1' IDENTIFIED BY '${PASSWORD}'`);
  await tell(0, "GRANT REPLICATION SLAVE ON *.* TO copier@'127.0.0.1'");
  await tell(0, 'CREATE DATABASE plum CHARACTER SET utf8mb4');
  await tell(0, `CREATE USER plum@'127.0.0.1' IDENTIFIED BY '${PASSWORD}'`);
  await tell(0, "GRANT ALL ON plum.* TO plum@'127.0.0.1'");
  for (const { i } of servers.slice(1)) await tell(i, 'START SLAVE');
  const before = `mariadb://plum:${encodeURIComponent(PASSWORD)}@`;
  return {
    /** The address of the server that is written to. */
    address: `${before}127.0.0.1:${first.port}/plum`,
    /** The address of the replicas. */
    replicas: `${before}${servers
      .slice(1)
      .map(({ port }) => `127.0.0.1:${port}`)
      .join(',')}/plum`,
    /** Asks a server as its owner; the first one is 0. */
    tell,
    /** Ends a server as a power cut does. @param {number} i */
    kill: (i) => new Promise((done) => (servers[i]?.child?.once('exit', done), servers[i]?.child?.kill('SIGKILL'))),
    /** @param {number} i */
    bringBack: (i) => begin(/** @type {typeof servers[number]} */ (servers[i])),
    stop() {
      for (const { child } of servers) child?.kill('SIGKILL');
    },
  };
}
