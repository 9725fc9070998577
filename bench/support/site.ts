import { spawn, type ChildProcess } from 'node:child_process';
import { join } from 'node:path';
import { answered, freePort } from '../../scripts/lib/ports.mjs';

/** The built application over the bench's database, in a process of its own; there once `path` is answered with 200. */
export async function startSite(
  env: Record<string, string>,
  path: '/healthz' | '/readyz' = '/healthz',
): Promise<{ site: string; child: ChildProcess }> {
  const port = await freePort();
  const site = `http://127.0.0.1:${port}`;
  const child = spawn(process.execPath, [join(import.meta.dirname, '..', '..', 'scripts', 'lib', 'serve.mjs')], {
    env: {
      ...process.env,
      PLUM_HTTP_HOST: '127.0.0.1',
      PLUM_HTTP_PORT: String(port),
      PLUM_HTTP_ORIGIN: site,
      ...env,
    },
    stdio: ['ignore', process.env.PLUM_BENCH_LOG ? 'inherit' : 'ignore', 'inherit'],
  });
  await answered(site + path, child);
  return { site, child };
}
