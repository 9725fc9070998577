import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

/** The command that people start the application with, run as they run it. */
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-demo-'));
const port = 20_000 + (process.pid % 20_000);
const site = `http://localhost:${port}`;
const started: ChildProcess[] = [];

interface Run {
  child: ChildProcess;
  said(): string;
  ended: Promise<number | null>;
}

function start(...args: string[]): Run {
  const child = spawn(
    process.execPath,
    ['scripts/demo.mjs', '--empty', '--port', String(port), '--data', folder, ...args],
    { stdio: ['ignore', 'pipe', 'pipe'] },
  );
  started.push(child);
  let output = '';
  child.stdout!.on('data', (data) => (output += data));
  child.stderr!.on('data', (data) => (output += data));
  return { child, said: () => output, ended: new Promise((done) => child.once('exit', (code) => done(code))) };
}

async function up(run: Run): Promise<void> {
  for (let tries = 0; tries < 600; tries++) {
    // The last that it says is how to come in.
    if (run.said().includes(`is at ${site}/studio`) && /for an hour\): |Sign in there/.test(run.said())) return;
    if (run.child.exitCode !== null) break;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`It did not start:\n${run.said()}`);
}

/** Kills the runner, and waits until the application has gone with it. */
async function kill(run: Run): Promise<void> {
  run.child.kill('SIGKILL');
  await run.ended;
  for (let tries = 0; tries < 100; tries++) {
    const answers = await fetch(site).then(
      () => true,
      () => false,
    );
    if (!answers) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('The application goes on without its runner.');
}

const alive = (pid: number) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};
const databasePid = () => Number(readFileSync(join(folder, 'mariadb.pid'), 'utf8'));
let cookie = '';
/** Makes the first account by the link that was printed. */
async function beginAsOwner(run: Run): Promise<void> {
  const link = new RegExp(`${site}/studio/link/[\\w-]{43}`).exec(run.said())![0];
  const body = new URLSearchParams({ name: 'Ada', email: 'ada@huts.example', password: 'seven soups at noon' });
  const headers = { accept: 'text/html' };
  const made = await fetch(`${link}?/owner`, { method: 'POST', body, headers, redirect: 'manual' });
  expect(made.status).toBe(303);
  cookie = made.headers.getSetCookie()[0]!.split(';')[0]!;
}
const types = async () =>
  (
    (await (await fetch(`${site}/api/v1/types`, { headers: { cookie } })).json()) as { items: { name: string }[] }
  ).items.map((type) => type.name);

beforeAll(() => rmSync(folder, { recursive: true, force: true }));
afterAll(() => {
  for (const child of started) child.kill('SIGKILL');
  if (existsSync(join(folder, 'mariadb.pid'))) {
    const pid = databasePid();
    if (alive(pid)) process.kill(pid, 'SIGKILL');
  }
  rmSync(folder, { recursive: true, force: true });
});

describe('npm run demo', () => {
  it('starts, keeps its data, recovers from being killed, and stops cleanly', async () => {
    const first = start();
    await up(first);
    expect(first.said().match(/is at http/g)).toHaveLength(1);
    await expect(fetch(`${site}/api/v1/types`).then(({ status }) => status)).resolves.toBe(403);
    await beginAsOwner(first);
    const made = await fetch(`${site}/api/v1/types`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie },
      body: JSON.stringify({
        id: 't',
        key: 'lamp',
        name: 'Lamp',
        plural: 'Lamps',
        base: 'lamps',
        taxonomyIds: [],
        fields: [],
      }),
    });
    expect(made.status).toBe(201);

    // The same folder a second time, and the same port with another folder.
    const second = spawnSync(process.execPath, ['scripts/demo.mjs', '--port', String(port + 1), '--data', folder], {
      encoding: 'utf8',
    });
    expect([second.status, second.stderr]).toEqual([1, expect.stringContaining('is in use by another instance')]);
    const third = spawnSync(process.execPath, ['scripts/demo.mjs', '--port', String(port)], { encoding: 'utf8' });
    expect([third.status, third.stderr]).toEqual([1, expect.stringContaining(`Port ${port} is taken.`)]);

    // All die at once; the application ends with the runner that started it.
    process.kill(databasePid(), 'SIGKILL');
    await kill(first);
    const again = start();
    await up(again);
    expect(await types()).toEqual(['Lamp']);

    // Only the runner dies: its database is still at work on the folder when the next run begins.
    await kill(again);
    expect(alive(databasePid())).toBe(true);
    const last = start();
    await up(last);
    expect(await types()).toEqual(['Lamp']);
    const database = databasePid();
    last.child.kill('SIGINT');
    expect(await last.ended).toBe(0);
    expect(alive(database)).toBe(false);
    await expect(fetch(site)).rejects.toThrow();
  });

  it('says that the database is damaged and changes nothing of it', async () => {
    const file = join(folder, 'mariadb', 'ibdata1');
    truncateSync(file, 4096);
    const run = start();
    expect(await run.ended).toBe(1);
    expect(run.said()).toContain('may be damaged');
    expect(run.said()).toContain('-- --fresh');
    expect(readdirSync(join(folder, 'mariadb', 'plum')).length).toBeGreaterThan(5);
    // Starting over is asked for in so many words.
    const fresh = start('--fresh');
    await up(fresh);
    await beginAsOwner(fresh);
    expect(await types()).toEqual([]);
    fresh.child.kill('SIGINT');
    await fresh.ended;
  });

  it('says what is wrong with what it was given', async () => {
    const wrong = (...args: string[]) =>
      spawnSync(process.execPath, ['scripts/demo.mjs', ...args], { encoding: 'utf8' });
    expect(wrong('--port', 'many').stderr).toContain('--port many is no port');
    expect(wrong('--prot', '1').stderr).toContain("Unknown option '--prot'");
    const server = createServer().listen(port, '127.0.0.1');
    await new Promise((done) => server.once('listening', done));
    expect(
      (
        await new Promise<Run>((done) => {
          const run = start();
          void run.ended.then(() => done(run));
        })
      ).said(),
    ).toContain(`npm run demo -- --port ${port + 1}`);
    server.close();
    writeFileSync(join(folder, 'a-file'), '');
    expect(existsSync(join(folder, 'a-file'))).toBe(true);
  });
});
