import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { startDatabase, takeFolder } from './lib/mariadb.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root } from './lib/setup.mjs';

// Asks the API for whatever its document says and does not say: npm run fuzz -- --requests 100000 --seed 7
const { values } = parseArgs({
  options: {
    requests: { type: 'string', default: '10000' },
    seed: { type: 'string', default: String(Date.now() % 1e9) },
  },
});
ensureDebian('database');
ensurePackages();
await ensureBuild();
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-fuzz-'));
await takeFolder(folder);
const db = await startDatabase(folder, { quick: true });
console.log(`${values.requests} requests, seed ${values.seed}`);
const { status } = spawnSync('npx', ['vitest', 'run', '--project', 'server', 'tests/server/fuzz.test.ts'], {
  cwd: root,
  env: {
    ...process.env,
    PLUM_TEST_DATABASE: db.url,
    PLUM_FUZZ_REQUESTS: values.requests,
    PLUM_FUZZ_SEED: values.seed,
  },
  stdio: ['ignore', 'inherit', 'inherit'],
});
await db.stop();
rmSync(folder, { recursive: true, force: true });
process.exitCode = status ?? 1;
