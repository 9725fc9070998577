import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { portProblem, portWords } from './lib/free-port.mjs';
import { answered } from './lib/ports.mjs';
import { ensureBuild, ensurePackages, root, stop } from './lib/setup.mjs';

// The application alone, for production: the database is whatever PLUM_DATABASE names, and nothing of the demo is in it.
ensurePackages();
const { register } = await import('tsx/esm/api');
register();
const { readSettings, serverEnv } = await import(new URL('../src/lib/server/base/settings.ts', import.meta.url).href);
const read = readSettings(process.env);
if ('wrong' in read)
  stop(
    `Plum Thread does not start: a setting is wrong. docs/running.md lists them all.\n${read.wrong.map((/** @type {string} */ line) => `  ${line}`).join('\n')}`,
  );
await ensureBuild();
const taken = await portProblem(read.settings.PLUM_PORT, read.settings.PLUM_ADDRESS);
if (taken) stop(`Plum Thread does not start. ${portWords(taken, read.settings.PLUM_PORT, read.settings.PLUM_ADDRESS)}`);
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
// Whoever starts it first makes the first account. The link is told here and nowhere else.
void firstLinkOf(serverEnv(read.settings)).then((link) => {
  if (link) console.log(`Nobody has an account yet. Make the first one here (good once, for an hour): ${link}`);
});
app.once('exit', (code, signal) => process.exit(code ?? (signal === 'SIGTERM' ? 0 : 1)));

/** @param {Record<string, string>} env @returns {Promise<string | undefined>} */
async function firstLinkOf(env) {
  const host = /^(0\.0\.0\.0|::)$/.test(env.PLUM_HTTP_HOST ?? '') ? '127.0.0.1' : env.PLUM_HTTP_HOST;
  const up = await answered(`http://${host}:${env.PLUM_HTTP_PORT}/healthz`, app).then(
    () => true,
    () => false,
  );
  if (!up) return undefined;
  const { firstLink } = await import(new URL('../src/lib/server/people/first-link.ts', import.meta.url).href);
  const { createServer } = await import(
    new URL('../src/lib/server/application/create-server.ts', import.meta.url).href
  );
  const { configurationFrom } = await import(new URL('../src/lib/server/base/configuration.ts', import.meta.url).href);
  const server = createServer(configurationFrom(env));
  // A database that went away meanwhile is told of by the application itself.
  return await server
    .run(() => firstLink(env.PLUM_HTTP_ORIGIN))
    .catch(() => undefined)
    .finally(() => server.close());
}
