import { createServer } from 'node:net';

/**
 * Whether a server may listen there; else what is in the way: EADDRINUSE, EACCES or EADDRNOTAVAIL.
 * @param {number} port @param {string} host @returns {Promise<string | undefined>}
 */
export const portProblem = (port, host) =>
  new Promise((done) => {
    const server = createServer();
    server.once('error', (error) => done(/** @type {NodeJS.ErrnoException} */ (error).code ?? String(error)));
    server.listen(port, host, () => server.close(() => done(undefined)));
  });

/** What to do about it, in one line. @param {string} code @param {number} port @param {string} host */
export const portWords = (code, port, host) =>
  ({
    EADDRINUSE: `Port ${port} is taken by another program. Stop that one, or choose another port: PLUM_PORT.`,
    EACCES: `Port ${port} is for the system alone. Choose one above 1023 (PLUM_PORT), and let a proxy stand before it.`,
    EADDRNOTAVAIL: `This machine has no address ${host}. Give PLUM_ADDRESS one that it has, such as 127.0.0.1 or 0.0.0.0.`,
  })[code] ?? `Nothing can listen at ${host}:${port} (${code}).`;
