import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** The built application, for as long as the process that started it lives. */
process.on('disconnect', () => process.exit());
// Where logs are lines of JSON, all of them are.
if (process.env.PLUM_LOG)
  console.log = (/** @type {unknown[]} */ ...words) =>
    process.stdout.write(
      `${JSON.stringify({ level: 'info', time: new Date().toISOString(), msg: words.map(String).join(' ') })}\n`,
    );
/** Long work is done by a process of its own beside this one, unless it is told otherwise. @type {import('node:child_process').ChildProcess | undefined} */
let worker;
const beside = (process.env.PLUM_WORKER ?? '1') !== '0';
if (beside) {
  process.env.PLUM_WORK = 'beside';
  /** @type {any} */ (globalThis).plumThreadWork = () => void (worker?.connected && worker.send('look'));
}
const { server } = await import(new URL('../../build/index.js', import.meta.url).href);
let over = false;
function startWorker() {
  worker = spawn(process.execPath, [fileURLToPath(new URL('work.mjs', import.meta.url))], {
    env: { ...process.env, PLUM_WORK: 'only' },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  worker.once('exit', () => {
    // What it was at is begun again, or told.
    if (!over) setTimeout(startWorker, 1000);
  });
}
if (beside) startWorker();
process.on('exit', () => worker?.kill('SIGTERM'));
// Requests under way have been answered by then. What the application works on it hands on first.
process.on('sveltekit:shutdown', () => {
  over = true;
  worker?.kill('SIGTERM');
  setTimeout(() => process.exit(), 3000);
  void Promise.resolve(/** @type {any} */ (globalThis).plumThreadEnding).finally(() => process.exit());
});
// Visitors who ask for pages are answered before the router is asked. Whoever else listens counts requests, and closes
// connections at the end.
server.server.off('request', server.attach);
server.server.on('request', (/** @type {unknown} */ request, /** @type {unknown} */ response) => {
  const further = (/** @type {boolean} */ answered) => void (answered || server.attach(request, response));
  const answered = /** @type {any} */ (globalThis).plumThreadVisitor?.(request, response) ?? false;
  if (typeof answered === 'boolean') further(answered);
  else void answered.then(further);
});
// A request that has not arrived after its time is ended, however steadily it drips; Node.js looks every half minute.
server.server.requestTimeout = Number(process.env.PLUM_SLOWEST ?? 300) * 1000;
