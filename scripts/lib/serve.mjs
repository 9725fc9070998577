import cluster from 'node:cluster';
import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/**
 * The built application, for as long as the process that started it lives: so many processes that answer at one door as
 * PLUM_PROCESSES says, and one beside them for long work unless PLUM_WORKER says otherwise. One that ends by itself is
 * started again.
 */
process.on('disconnect', () => process.exit());
// Where logs are lines of JSON, all of them are.
if (process.env.PLUM_LOG)
  console.log = (/** @type {unknown[]} */ ...words) =>
    process.stdout.write(
      `${JSON.stringify({ level: 'info', time: new Date().toISOString(), msg: words.map(String).join(' ') })}\n`,
    );

const beside = (process.env.PLUM_WORKER ?? '1') !== '0';
/** Says to the process for long work that there is something to do. */
const LOOK = 'look';

/** @type {import('node:child_process').ChildProcess | undefined} */
let worker;
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
const look = () => void (worker?.connected && worker.send(LOOK));

/**
 * Processes that answer at one door. They know nothing of each other but what stands in the database.
 * @param {number} many
 */
function startSeveral(many) {
  let isOpen = false;
  cluster.on('listening', () => (isOpen = true));
  cluster.on('message', (_, message) => void (message === LOOK && look()));
  cluster.on('exit', (_, code) => {
    // One that cannot even begin has said why, and the next could not either.
    if (!isOpen) process.exit(code || 1);
    if (!over) setTimeout(() => over || cluster.fork(), 1000);
    else if (!Object.keys(cluster.workers ?? {}).length) process.exit();
  });
  const end = () => {
    over = true;
    worker?.kill('SIGTERM');
    for (const one of Object.values(cluster.workers ?? {})) one?.process.kill('SIGTERM');
  };
  for (const signal of ['SIGTERM', 'SIGINT', 'SIGHUP']) process.on(signal, end);
  for (let i = 0; i < many; i++) cluster.fork();
}

const several = Number(process.env.PLUM_PROCESSES ?? 1);
if (beside) process.env.PLUM_WORK = 'beside';
if (cluster.isPrimary && several > 1) startSeveral(several);
else {
  process.on('sveltekit:shutdown', () => {
    over = true;
    worker?.kill('SIGTERM');
  });
  const { wakeWorkerBy } = await import('./answer.mjs');
  if (beside) wakeWorkerBy(cluster.isPrimary ? look : () => void process.send?.(LOOK));
}
if (cluster.isPrimary && beside) startWorker();
process.on('exit', () => worker?.kill('SIGTERM'));
