import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startDatabase, takeFolder } from './lib/mariadb.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root, runTypeScript } from './lib/setup.mjs';

ensurePackages();
// Named ones, or all: npm run bench -- draw
const wanted = process.argv.slice(2);
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
    runTypeScript(path, [], { NODE_ENV: 'production' });
    continue;
  }
  ensureDebian('database');
  const folder = mkdtempSync(join(tmpdir(), 'plum-thread-bench-'));
  await takeFolder(folder);
  const db = await startDatabase(folder, { quick: true });
  try {
    runTypeScript(path, [], { NODE_ENV: 'production', PLUM_DATABASE: db.url, PLUM_MEDIA: join(folder, 'media') });
  } finally {
    await db.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
