import { mkdirSync, rmSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { join } from 'node:path';

/**
 * Takes a folder for this process, and gives what lets go of it; undefined where another process has it. The lock is a
 * socket that only a living process answers, so nothing stays locked by one that was killed. @param {string} folder
 * @returns {Promise<(() => void) | undefined>}
 */
export async function take(folder) {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, 'in-use');
  const answered = await new Promise((done) => {
    const socket = connect(path);
    socket.once('connect', () => done(true)).once('error', () => done(false));
    socket.once('connect', () => socket.destroy());
  });
  if (answered) return undefined;
  rmSync(path, { force: true });
  const server = createServer((socket) => socket.end());
  const mine = await new Promise((done, fail) =>
    server
      .once('error', (/** @type {NodeJS.ErrnoException} */ error) =>
        error.code === 'EADDRINUSE' ? done(false) : fail(error),
      )
      .listen(path, () => done(true)),
  );
  if (!mine) return undefined;
  server.unref();
  return () => server.close();
}
