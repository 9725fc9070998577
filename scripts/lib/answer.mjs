import { subscribe } from 'node:diagnostics_channel';
import http from 'node:http';
import v8 from 'node:v8';

/** The built application with its door, in the process that imports this. */

/** Known once the application has started; see src/lib/server/application/application.ts. @type {import('../../src/lib/server/application/application').Application | undefined} */
let application;
/** @param {() => void} wake How the process for long work is told that there is some. */
export const wakeWorkerBy = (wake) => application?.wakeWorkerBy(wake);
subscribe('plum-thread:application', (started) => (application = /** @type {any} */ (started)));

// The heap may grow by a third until it is collected, so that a process takes what it needs and not twice as much: V8 would let
// it grow for minutes, and visitors wait no less. While lists are laid out after a start it may grow as it likes, which is faster.
setTimeout(() => v8.setFlagsFromString('--heap-growing-percent=30'), 20_000).unref();
const slowest = Number(process.env.PLUM_SLOWEST ?? 300) * 1000;
// Node.js looks for requests that take too long at an interval that can be set only where a server is created, which the
// build does: every half minute unless a request has less time than that.
const { createServer } = http;
http.createServer = /** @type {typeof createServer} */ (
  (/** @type {unknown[]} */ ...options) =>
    // @ts-expect-error The build passes none.
    createServer({ connectionsCheckingInterval: Math.min(30_000, slowest) }, ...options)
);
const { server } = await import(new URL('../../build/index.js', import.meta.url).href);
http.createServer = createServer;
// Requests under way have been answered by then. What the application works on it hands on first.
process.on('sveltekit:shutdown', () => {
  setTimeout(() => process.exit(), 3000);
  void Promise.resolve(application?.stop()).finally(() => process.exit());
});
// Visitors who ask for pages are answered before the router is asked. Whoever else listens counts requests, and closes
// connections at the end.
server.server.off('request', server.attach);
server.server.on(
  'request',
  (/** @type {http.IncomingMessage} */ request, /** @type {http.ServerResponse} */ response) => {
    const further = (/** @type {boolean} */ answered) => void (answered || server.attach(request, response));
    const answered = application?.answerVisitor(request, response) ?? false;
    if (typeof answered === 'boolean') further(answered);
    else void answered.then(further);
  },
);
// A request that has not arrived after its time is ended, however steadily it drips.
server.server.requestTimeout = slowest;
