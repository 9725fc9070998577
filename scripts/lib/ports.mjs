import { createServer } from 'node:net';

/** A port of the loopback address that nobody has. @returns {Promise<number>} */
export const freePort = () =>
  new Promise((done, fail) => {
    const server = createServer();
    server.once('error', fail);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => done(typeof address === 'object' && address ? address.port : 0));
    });
  });

/**
 * Waits until an application answers well at an address. Throws when the process that should answer has ended, or when
 * it does not answer in time. @param {string} address @param {import('node:child_process').ChildProcess} [child] @param {number} [seconds]
 */
export async function answered(address, child, seconds = 120) {
  const until = Date.now() + seconds * 1000;
  while (Date.now() < until) {
    const well = await fetch(address).then(
      ({ ok }) => ok,
      () => false,
    );
    if (well) return;
    if (child && (child.exitCode ?? child.signalCode) !== null)
      throw new Error(
        `The process that should answer at ${address} has ended (${child.exitCode ?? child.signalCode}).`,
      );
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`Nothing answers at ${address} after ${seconds} seconds.`);
}
