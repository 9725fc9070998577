import { subscribe } from 'node:diagnostics_channel';

/**
 * The built application without a door: it answers nobody, and does the long work that others began, so that whoever is
 * answered meanwhile does not wait for it. It ends with the process that started it, and hands on what it is at.
 */
/** Known once the application has started; see src/lib/server/application/application.ts. @type {import('../../src/lib/server/application/application').Application | undefined} */
let application;
subscribe('plum-thread:application', (started) => (application = /** @type {any} */ (started)));

let ending = false;
function end() {
  if (ending) return;
  ending = true;
  setTimeout(() => process.exit(), 3000);
  void Promise.resolve(application?.stop()).finally(() => process.exit());
}
process.on('disconnect', end);
for (const signal of ['SIGTERM', 'SIGINT', 'SIGHUP']) process.on(signal, end);
if (process.env.PLUM_LOG)
  console.log = (/** @type {unknown[]} */ ...words) =>
    process.stdout.write(
      `${JSON.stringify({ level: 'info', time: new Date().toISOString(), msg: words.map(String).join(' ') })}\n`,
    );
// Makes the application ready without listening anywhere.
await import(new URL('../../build/handler.js', import.meta.url).href);
process.on('message', () => application?.lookForJobs());
process.send?.('ready');
