import { spawn, type ChildProcess } from 'node:child_process';
import { answered, freePort } from '../../scripts/lib/ports.mjs';
import { environmentOf } from './server';

export interface App {
  origin: string;
  child: ChildProcess;
  said(): string;
}

/** The built application over the database of the server that is used, in a process of its own. */
export async function startApp(more: Record<string, string> = {}): Promise<App> {
  const port = Number(more.PLUM_HTTP_PORT) || (await freePort());
  const origin = `http://127.0.0.1:${port}`;
  const child = spawn(process.execPath, ['scripts/lib/serve.mjs'], {
    env: {
      ...process.env,
      ...environmentOf(),
      PLUM_HTTP_HOST: '127.0.0.1',
      PLUM_HTTP_PORT: String(port),
      PLUM_HTTP_ORIGIN: origin,
      PLUM_LOG: 'info',
      // One process, so that a test that kills it kills all of it.
      PLUM_WORKER: '0',
      ...more,
    },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  child.stdout!.on('data', (data) => (said += data));
  child.stderr!.on('data', (data) => (said += data));
  await answered(`${origin}/healthz`, child).catch((error: unknown) => {
    throw new Error(`It did not start:\n${said}`, { cause: error });
  });
  return { origin, child, said: () => said };
}
