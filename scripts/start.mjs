import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureBuild, ensurePackages, root, stop } from './lib/setup.mjs';

// The application alone, for production: the database is whatever PLUM_DATABASE names, and nothing of the demo is in it.
ensurePackages();
const { register } = await import('tsx/esm/api');
register();
const { readSettings, serverEnv } = await import(new URL('../src/lib/server/settings.ts', import.meta.url).href);
const read = readSettings(process.env);
if ('wrong' in read)
  stop(
    `Plum Thread does not start: a setting is wrong. docs/running.md lists them all.\n${read.wrong.map((/** @type {string} */ line) => `  ${line}`).join('\n')}`,
  );
await ensureBuild();
const app = spawn(process.execPath, [join(root, 'scripts', 'lib', 'serve.mjs')], {
  cwd: root,
  env: { ...process.env, PLUM_LOG: 'info', ...serverEnv(read.settings), NODE_ENV: 'production' },
  stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
});
for (const signal of /** @type {const} */ (['SIGINT', 'SIGTERM', 'SIGHUP']))
  process.on(signal, () => {
    app.kill('SIGTERM');
    // Whatever still runs after its time is ended with it.
    setTimeout(() => app.kill('SIGKILL'), (read.settings.PLUM_SHUTDOWN + 1) * 1000).unref();
  });
app.once('exit', (code, signal) => process.exit(code ?? (signal === 'SIGTERM' ? 0 : 1)));
