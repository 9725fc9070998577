import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, openSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './ports.mjs';
import { programPath } from './setup.mjs';

const PROVIDER = ['/usr/lib/galera/libgalera_smm.so', '/usr/lib/libgalera_smm.so'].find((path) => existsSync(path));
const PASSWORD = 'a cluster on loopback';

/** @param {number} ms */
const pause = (ms) => new Promise((done) => setTimeout(done, ms));

/**
 * A Galera cluster of MariaDB on loopback, over folders within `folder`, for tests: nodes are killed and brought back.
 * @param {string} folder @param {number} [size]
 */
export async function startCluster(folder, size = 3) {
  if (!PROVIDER || !programPath('rsync'))
    throw new Error('Galera and rsync are missing; Debian has them as galera-4 and rsync.');
  const { createConnection } = await import('mariadb');
  /** @type {{ i: number, port: number, group: number, transfer: number, state: number, folder: string, child?: import("node:child_process").ChildProcess }[]} */
  const nodes = [];
  for (let i = 0; i < size; i++) {
    const [port, group, transfer, state] = [await freePort(), await freePort(), await freePort(), await freePort()];
    nodes.push({
      i,
      port,
      group,
      transfer,
      state,
      folder: join(folder, `node-${i}`),
      child: /** @type {import('node:child_process').ChildProcess | undefined} */ (undefined),
    });
  }
  // Files are handed over by rsync, which gives up its rights where root begins it.
  const root = process.getuid?.() === 0;
  const asUser = root ? ['--user=mysql'] : [];
  const give = (/** @type {string} */ path) => void (root && spawnSync('chown', ['-R', 'mysql', path]));
  give(folder);
  /** @param {typeof nodes[number]} node */
  const socketOf = (node) => join(tmpdir(), `plum-thread-${process.pid}-${node.i}.sock`);
  /** @param {typeof nodes[number]} node @param {boolean} first */
  function begin(node, first) {
    const data = join(node.folder, 'data');
    mkdirSync(data, { recursive: true });
    give(node.folder);
    if (first) {
      const made = spawnSync(
        String(programPath('mariadb-install-db')),
        ['--no-defaults', `--datadir=${data}`, '--auth-root-authentication-method=normal', '--skip-test-db', ...asUser],
        { encoding: 'utf8' },
      );
      if (made.status !== 0) throw new Error(`The first node could not be made:\n${made.stderr}`);
    }
    const log = openSync(join(node.folder, 'log'), 'a');
    node.child = spawn(
      String(programPath('mariadbd')),
      [
        '--no-defaults',
        `--datadir=${data}`,
        `--socket=${socketOf(node)}`,
        `--port=${node.port}`,
        '--bind-address=127.0.0.1',
        '--skip-name-resolve',
        '--innodb-buffer-pool-size=64M',
        '--innodb-flush-log-at-trx-commit=2',
        '--binlog-format=ROW',
        '--innodb-autoinc-lock-mode=2',
        '--wsrep-on=ON',
        `--wsrep-provider=${PROVIDER}`,
        '--wsrep-cluster-name=plum',
        `--wsrep-node-name=node${node.i}`,
        `--wsrep-cluster-address=gcomm://${nodes.map(({ group }) => `127.0.0.1:${group}`).join(',')}`,
        '--wsrep-node-address=127.0.0.1',
        `--wsrep-provider-options=gmcast.listen_addr=tcp://127.0.0.1:${node.group};ist.recv_addr=127.0.0.1:${node.state};gcache.size=64M`,
        '--wsrep-sst-method=rsync',
        `--wsrep-sst-receive-address=127.0.0.1:${node.transfer}`,
        ...(first ? ['--wsrep-new-cluster'] : []),
        ...asUser,
      ],
      // Its helpers are looked for on the path.
      {
        stdio: ['ignore', log, log],
        env: { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/usr/bin:/sbin:/bin` },
      },
    );
  }
  /** Waits until a node has everything that the others have. @param {typeof nodes[number]} node */
  async function synced(node) {
    for (let tries = 0; tries < 600; tries++) {
      if (node.child?.exitCode !== null || node.child.signalCode) break;
      const connection = await createConnection({ socketPath: socketOf(node), user: 'root' }).catch(() => undefined);
      const rows = await connection?.query("SHOW STATUS LIKE 'wsrep_local_state_comment'").catch(() => []);
      await connection?.end();
      if (rows?.[0]?.Value === 'Synced') return;
      await pause(200);
    }
    throw new Error(
      `Node ${node.i} did not come up:\n${readFileSync(join(node.folder, 'log'), 'utf8').split('\n').slice(-25).join('\n')}`,
    );
  }
  const [one, ...others] = nodes;
  begin(/** @type {typeof nodes[number]} */ (one), true);
  await synced(/** @type {typeof nodes[number]} */ (one));
  const admin = await createConnection({
    socketPath: socketOf(/** @type {typeof nodes[number]} */ (one)),
    user: 'root',
  });
  await admin.query('CREATE DATABASE plum CHARACTER SET utf8mb4');
  await admin.query(`CREATE USER plum@'127.0.0.1' IDENTIFIED BY '${PASSWORD}'`);
  await admin.query("GRANT ALL ON plum.* TO plum@'127.0.0.1'");
  await admin.end();
  // One after the other: each is given everything by one that is there.
  for (const node of others) {
    begin(node, false);
    await synced(node);
  }
  const before = `mariadb://plum:${encodeURIComponent(PASSWORD)}@`;
  return {
    /** The address of the cluster for whoever prefers one of its nodes. @param {number} [preferred] */
    address: (preferred = 0) =>
      `${before}${nodes.map((_, i) => `127.0.0.1:${nodes[(i + preferred) % size]?.port}`).join(',')}/plum`,
    /** The address of one node alone. @param {number} i */
    nodeAddress: (i) => `${before}127.0.0.1:${nodes[i]?.port}/plum`,
    /** Ends a node as a power cut does. @param {number} i */
    kill(i) {
      nodes[i]?.child?.kill('SIGKILL');
    },
    /** Brings a node back, and waits until it has what it missed. @param {number} i */
    async bringBack(i) {
      const node = /** @type {typeof nodes[number]} */ (nodes[i]);
      begin(node, false);
      await synced(node);
    },
    stop() {
      for (const { child } of nodes) child?.kill('SIGKILL');
    },
  };
}
