import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { createRecord } from '../../src/lib/server/services/records';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { ownerCookie } from '../support/owner';
import { environmentOf } from '../support/server';

/** The processes that a process started and that still live (proc(5), /proc/pid/task/tid/children). */
const below = (pid: number): number[] =>
  readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').split(' ').filter(Boolean).map(Number);
const lives = (pid: number): boolean => {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
};

describe('several processes at one door', () => {
  let drop: () => Promise<void>;
  let cookie: string;
  let app: App | undefined;
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
    await createRecord('house', { title: 'Told', slug: 'told', status: 'published' });
    cookie = await ownerCookie();
  });
  afterEach(() => app?.child.kill('SIGKILL'));
  afterAll(() => drop());

  /** Each by a connection of its own. */
  const ask = (path: string, method = 'GET', body?: unknown): Promise<{ status?: number; text: string }> =>
    new Promise((done, fail) => {
      const headers = { cookie, 'if-match': '*', 'content-type': 'application/json' };
      request(app!.origin + path, { method, headers, agent: false }, (response) => {
        const text: Buffer[] = [];
        response.on('data', (piece: Buffer) => text.push(piece));
        response.on('end', () => done({ status: response.statusCode, text: Buffer.concat(text).toString() }));
      })
        .on('error', fail)
        .end(body === undefined ? undefined : JSON.stringify(body));
    });
  const page = async () => (await ask('/houses/told')).text;
  /** The processes that said they answered a page. */
  const answering = () => {
    const lines = app!
      .said()
      .split('\n')
      .filter((line) => line.includes('/houses/told'));
    return new Set(lines.map((line) => (JSON.parse(line) as { pid: number }).pid));
  };

  it('share what is asked, say what was written to the very next, and replace one that dies', async () => {
    app = await startApp({ PLUM_PROCESSES: '3' });
    const pid = app.child.pid!;
    await vi.waitFor(() => expect(below(pid)).toHaveLength(3));
    await vi.waitFor(
      async () => {
        await Promise.all(Array.from({ length: 12 }, page));
        expect(answering().size).toBe(3);
      },
      { timeout: 300_000 },
    );
    const write = async (n: number) => {
      expect((await ask('/api/v1/records/1', 'PATCH', { title: `Told ${n}` })).status).toBe(200);
      for (const seen of await Promise.all(Array.from({ length: 6 }, page))) expect(seen).toContain(`Told ${n}`);
    };
    for (let n = 0; n < 10; n++) await write(n);
    const [dies, ...others] = below(pid);
    process.kill(dies!, 'SIGKILL');
    await vi.waitFor(() => expect(lives(dies!)).toBe(false));
    for (let n = 10; n < 15; n++) await write(n);
    await vi.waitFor(() => expect(below(pid)).toHaveLength(3), { timeout: 300_000 });
    expect(below(pid)).toEqual(expect.arrayContaining(others));
    // Nothing of it outlives it, whether it is asked to end or dies.
    const all = below(pid);
    app.child.kill('SIGTERM');
    expect((await once(app.child, 'exit'))[0]).toBe(0);
    expect(all.filter(lives)).toEqual([]);
  });

  it('end with the one that started them, and do not try for ever what cannot begin', async () => {
    app = await startApp({ PLUM_PROCESSES: '2', PLUM_WORKER: '1' });
    const pid = app.child.pid!;
    // The third does what takes long.
    await vi.waitFor(() => expect(below(pid)).toHaveLength(3));
    const taken = spawn(process.execPath, ['scripts/lib/serve.mjs'], {
      env: {
        ...process.env,
        ...environmentOf(),
        PLUM_PROCESSES: '2',
        PLUM_HTTP_HOST: '127.0.0.1',
        PLUM_HTTP_PORT: new URL(app.origin).port,
      },
      stdio: ['ignore', 'ignore', 'pipe'],
    });
    let said = '';
    taken.stderr.on('data', (piece) => (said += piece));
    expect((await once(taken, 'exit'))[0]).toBeGreaterThan(0);
    expect(said).toContain('EADDRINUSE');
    const all = below(pid);
    app.child.kill('SIGKILL');
    await vi.waitFor(() => expect(all.filter(lives)).toEqual([]), { timeout: 300_000 });
  });
});
