import { spawn } from 'node:child_process';
import { createServer } from 'node:http';
import { afterEach, describe, expect, it } from 'vitest';
import { answered, freePort } from '../../scripts/lib/ports.mjs';

const closing: (() => void)[] = [];
afterEach(() => {
  for (const close of closing.splice(0)) close();
});

/** A server that says no at first, as one whose database is not there yet. */
async function lateServer(refusals: number): Promise<string> {
  const port = await freePort();
  let asked = 0;
  const server = createServer((_, response) => response.writeHead(asked++ < refusals ? 503 : 200).end());
  // Nobody listens when it is first asked.
  setTimeout(() => server.listen(port, '127.0.0.1'), 250);
  closing.push(() => server.close());
  return `http://127.0.0.1:${port}`;
}

describe('waiting for an application', () => {
  it('goes on when it answers well, however late it listens', async () => {
    await expect(answered(await lateServer(2))).resolves.toBeUndefined();
  });
  it('says that the process has ended, and does not wait for it', async () => {
    const child = spawn(process.execPath, ['-e', 'process.exit(3)']);
    await expect(answered(`http://127.0.0.1:${await freePort()}`, child, 60)).rejects.toThrow('has ended (3)');
  });
  it('gives up after its time', async () => {
    await expect(answered(`http://127.0.0.1:${await freePort()}`, undefined, 0.3)).rejects.toThrow('after 0.3 seconds');
  });
});
