import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startDatabase, takeFolder } from './lib/mariadb.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root, runTypeScript } from './lib/setup.mjs';

ensurePackages();
// Named ones, or all: npm run bench -- draw. With --flush the database writes each transaction to the disk before it answers, as in production.
const flush = process.argv.includes('--flush');
const wanted = process.argv.slice(2).filter((one) => one !== '--flush');
/** Those that take long, and are not among all. */
const BY_NAME_ALONE = new Set(['million']);
for (const file of readdirSync(join(root, 'bench'))
  .filter((file) => file.endsWith('.ts'))
  .sort()) {
  const name = file.replace(/\.ts$/, '');
  if (wanted.length ? !wanted.includes(name) : BY_NAME_ALONE.has(name)) continue;
  const path = join('bench', file);
  const source = readFileSync(join(root, path), 'utf8');
  if (source.includes("'@playwright/test'")) {
    ensureDebian('browser');
  }
  if (/@playwright\/test|serve\.mjs/.test(source)) await ensureBuild();
  if (!source.includes('/server/')) {
    await runTypeScript(path, [], { NODE_ENV: 'production' });
    continue;
  }
  ensureDebian('database');
  const folder = mkdtempSync(join(tmpdir(), 'plum-thread-bench-'));
  await takeFolder(folder);
  const db = await startDatabase(folder, { quick: !flush });
  console.log(
    `${name}: the database ${flush ? 'flushes each transaction to the disk, as in production' : 'does not flush (quicker than in production; --flush for that)'}`,
  );
  try {
    await runTypeScript(path, [], { NODE_ENV: 'production', PLUM_DATABASE: db.url, PLUM_MEDIA: join(folder, 'media') });
  } finally {
    await db.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
