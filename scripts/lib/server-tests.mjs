import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startDatabase, takeFolder } from './mariadb.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root } from './setup.mjs';

/**
 * Runs one file of the server's tests over a throw-away database, and ends with its exit code.
 * @param {string} file @param {Record<string, string>} env
 */
export async function runServerTest(file, env) {
  ensureDebian('database');
  ensurePackages();
  await ensureBuild();
  const folder = mkdtempSync(join(tmpdir(), 'plum-thread-tests-'));
  await takeFolder(folder);
  const db = await startDatabase(folder, { quick: true });
  const { status } = spawnSync('npx', ['vitest', 'run', '--project', 'server', file], {
    cwd: root,
    env: { ...process.env, PLUM_TEST_DATABASE: db.url, ...env },
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  await db.stop();
  rmSync(folder, { recursive: true, force: true });
  process.exitCode = status ?? 1;
}
