import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { portProblem } from './lib/free-port.mjs';
import { startDatabase, takeFolder, Trouble } from './lib/mariadb.mjs';
import { answered } from './lib/ports.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root, runTypeScript, stop } from './lib/setup.mjs';

const USAGE = 'npm run demo -- [--port N] [--data DIR] [--fresh] [--empty]';

function options() {
  try {
    const { values } = parseArgs({
      options: {
        port: { type: 'string', default: '4170' },
        data: { type: 'string', default: join(root, 'data') },
        fresh: { type: 'boolean' },
        empty: { type: 'boolean' },
        dev: { type: 'boolean' },
      },
    });
    const port = Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65535)
      stop(`--port ${values.port} is no port: give a number from 1 to 65535.`);
    return { ...values, port, data: resolve(String(values.data)) };
  } catch (error) {
    return stop(`${/** @type {Error} */ (error).message}\nUse: ${USAGE}`);
  }
}

const { port, data, fresh, empty, dev } = options();
if (await portProblem(port, '127.0.0.1'))
  stop(`Port ${port} is taken. Choose another one: npm run demo -- --port ${port + 1}`);
ensureDebian('database');
ensurePackages();
const { step } = await import('./lib/steps.mjs');

let release = () => {};
/** @type {Awaited<ReturnType<typeof startDatabase>> | undefined} */
let db;
/** @type {import('node:child_process').ChildProcess | undefined} */
let app;
let stopping = false;

/** @param {number} code */
async function shutDown(code) {
  if (stopping) return;
  stopping = true;
  if (app && app.exitCode === null) {
    const gone = new Promise((done) => app?.once('exit', done));
    app.kill('SIGTERM');
    const tooLong = setTimeout(() => app?.kill('SIGKILL'), 5000);
    await gone;
    clearTimeout(tooLong);
  }
  await db?.stop();
  release();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void shutDown(0));

try {
  release = await takeFolder(data);
  if (fresh)
    for (const name of ['mariadb', 'media', 'installed', 'password', 'mariadb.log'])
      rmSync(join(data, name), { recursive: true, force: true });
  if (!dev) await ensureBuild();
  if (!stopping) db = await step('Starting the database', () => startDatabase(data));
} catch (error) {
  release();
  if (error instanceof Trouble) stop(error.message);
  throw error;
}
if (db) {
  void db.ended.then(() => {
    if (stopping) return;
    console.error(
      `The database has ended by itself; its log is ${join(data, 'mariadb.log')}. Start again with npm run demo.`,
    );
    void shutDown(1);
  });
  // Packages may only just have been installed.
  const { startStandIns } = await import('./lib/standins.mjs');
  const others = await startStandIns(`http://localhost:${port}`);
  const env = {
    PLUM_DATABASE: db.url,
    PLUM_MEDIA: join(data, 'media'),
    PLUM_HTTP_HOST: '127.0.0.1',
    PLUM_HTTP_PORT: String(port),
    PLUM_HTTP_ORIGIN: `http://localhost:${port}`,
    // Anybody may come in as anybody; an empty one is begun as in production.
    PLUM_DEMO: empty ? '' : '1',
    PLUM_HTTP_BODY_SIZE_LIMIT: '220M',
    // Longer than proxies keep theirs, so that none puts a question to a connection that is just being closed.
    PLUM_HTTP_KEEP_ALIVE_TIMEOUT: '75',
    PLUM_HTTP_SHUTDOWN_TIMEOUT: '1',
    ...others.env,
  };
  try {
    await step(
      empty ? 'Preparing the tables' : 'Putting the demo world in (minutes the first time, a moment later)',
      () => runTypeScript('demo/seed.ts', empty ? [] : ['--demo'], env),
    );
  } catch {
    stopping = true;
    await db.stop();
    release();
    stop('The demo world could not be put in; what went wrong stands above. Nothing else was changed.');
  }
  const [command, args] = dev
    ? ['npx', ['vite', 'dev', '--port', String(port), '--host', '127.0.0.1', '--strictPort']]
    : [process.execPath, [join(root, 'scripts', 'lib', 'serve.mjs')]];
  app = spawn(/** @type {string} */ (command), /** @type {string[]} */ (args), {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', dev ? 'inherit' : 'ignore', 'inherit', 'ipc'],
  });
  app.once('exit', (code) => {
    if (!stopping) console.error('The application has ended by itself.');
    void shutDown(code ?? 1);
  });
  const up = await step('Starting the application', () =>
    answered(`http://127.0.0.1:${port}/`, /** @type {any} */ (app)),
  ).then(
    () => true,
    () => false,
  );
  if (up && !stopping) {
    console.log(`Plum Thread is at http://localhost:${port}/studio (site: http://localhost:${port}/)`);
    console.log(`Letters that it writes lie at ${others.outbox}`);
    // Whoever has no link signs in by the sign-in page; nothing that runs ends for it.
    await runTypeScript('demo/link.ts', [], env).catch(() =>
      console.error(
        `The link that signs you in could not be made. Sign in at http://localhost:${port}/studio/sign-in.`,
      ),
    );
  }
}
