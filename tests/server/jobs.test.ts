import { existsSync, readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { inTransaction, run, select } from '../../src/lib/server/database/connect';
import {
  cancelJob,
  defineJob,
  deleteOldJobs,
  stopJobs,
  lookAfterJobs,
  readJob,
  serveJobs,
  type Progress,
} from '../../src/lib/server/jobs/jobs';
import { Refusal } from '../../src/lib/server/base/refusal';
import { prewarmProgress, reportProgress } from '../../src/lib/server/site/prewarm-lists';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { ownerCookie } from '../support/owner';
import { useServer } from '../support/server';

let drop: () => Promise<void>;
const apps: App[] = [];
beforeAll(async () => {
  drop = await freshDatabase();
  serveJobs(kinds);
  await saveModel();
});
afterAll(async () => {
  for (const { child } of apps) child.kill('SIGKILL');
  await drop();
});

type Asked = { say: string };
/** What work of each kind does is said by the test that begins it. */
let body: (progress: Progress, asked: Asked) => Promise<unknown>;
const begun: string[] = [];
const does = (kind: string, again: boolean) =>
  defineJob<Asked, unknown>(kind, {
    again,
    run: (asked, _, progress) => {
      begun.push(asked.say);
      return body(progress, asked);
    },
  });
const kinds = [does('test again', true), does('test once', false)] as const;
const [{ start: begin }, { start: beginOnce }] = kinds;
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
const ended = async (id: string, by = 0) => {
  for (;;) {
    const job = await readJob(id, by);
    if (job.state !== 'running') return job;
    await pause(5);
  }
};

describe('work that goes on', () => {
  it('tells how far it is and what came of it, to whoever began it', async () => {
    let go = () => {};
    const asked = new Promise<void>((done) => (go = done));
    body = async ({ report }) => {
      report(1, 2);
      await asked;
      report(2);
      return { fine: true };
    };
    const job = await begin({ say: 'a' }, { id: 7, name: 'Ada' });
    expect(job).toMatchObject({ state: 'running', done: 1, total: 2 });
    await expect(readJob(job.id)).rejects.toThrow('There is no work with this id');
    await expect(cancelJob(job.id, 8)).rejects.toThrow('There is no work with this id');
    go();
    expect(await ended(job.id, 7)).toEqual({ id: job.id, state: 'done', done: 2, total: 2, result: { fine: true } });
  });

  it('says why it could not', async () => {
    body = () => Promise.reject(new Refusal(422, 'No.', [{ at: 'x', what: 'Wrong.' }]));
    expect(await ended((await begin({ say: 'b' })).id)).toMatchObject({
      state: 'failed',
      title: 'No.',
      problems: [{ at: 'x', what: 'Wrong.' }],
    });
  });

  it('is broken off by those who wait, once', async () => {
    body = async ({ signal }) => {
      while (!signal.aborted) await pause(2);
    };
    const job = await begin({ say: 'c' });
    await cancelJob(job.id);
    expect((await ended(job.id)).state).toBe('cancelled');
    expect((await cancelJob(job.id)).state).toBe('cancelled');
    await expect(readJob('job_none')).rejects.toThrow('There is no work with this id');
  });

  it('waits where a process has enough to do, and is broken off there too', async () => {
    let go = () => {};
    const all = new Promise<void>((done) => (go = done));
    body = () => all;
    const jobs = [];
    for (let i = 0; i < 5; i++) jobs.push(await begin({ say: `wait ${i}` }));
    expect(begun.filter((one) => one.startsWith('wait'))).toEqual(['wait 0', 'wait 1', 'wait 2']);
    expect((await cancelJob(jobs[4]!.id)).state).toBe('cancelled');
    go();
    for (const { id } of jobs.slice(0, 4)) expect((await ended(id)).state).toBe('done');
    expect(begun).not.toContain('wait 4');
  });

  /** As another process would have left it. */
  const diedOver = async (kind: string, tries: number, more = {}) => {
    const id = `job_${kind}_${tries}_${Object.keys(more).join()}`.replaceAll(' ', '').slice(0, 40);
    const row = { done: 40, stopping: false, ...more };
    await run(
      "INSERT INTO jobs (id, kind, asked, account_id, account_name, state, done, tries, stopping, holder, heard, created) VALUES (?, ?, ?, 0, '', 'running', ?, ?, ?, 'dead', NOW(3) - INTERVAL 60 SECOND, NOW(3))",
      [id, kind, JSON.stringify({ say: id }), row.done, tries, row.stopping],
    );
    return id;
  };
  it('is begun again, or ends with words, where its process has died', async () => {
    body = () => Promise.resolve({ by: 'another' });
    const again = await diedOver('test again', 1);
    const often = await diedOver('test again', 3);
    const once = await diedOver('test once', 1);
    const early = await diedOver('test once', 2, { done: 0 });
    const stopping = await diedOver('test again', 1, { stopping: true });
    const strange = await diedOver('of a later version', 1);
    await lookAfterJobs();
    expect(await ended(again)).toMatchObject({ state: 'done', result: { by: 'another' } });
    const problems = [{ what: 'It had come to 40; what was written until then is kept.' }];
    for (const id of [often, once])
      expect(await readJob(id)).toMatchObject({
        state: 'failed',
        title: expect.stringContaining('has ended'),
        problems,
      });
    expect((await readJob(early)).problems).toMatchObject([{ what: 'It had just begun.' }]);
    expect((await readJob(stopping)).state).toBe('cancelled');
    expect((await readJob(strange)).state).toBe('running');
    expect(begun.filter((one) => one.startsWith('job_'))).toEqual([again]);
  });

  it('that another process has taken over writes nothing', async () => {
    let settled: Promise<unknown> | undefined;
    body = async ({ settle }) => {
      await run("UPDATE jobs SET holder = 'another' WHERE kind = 'test once' AND state = 'running'", []);
      settled = inTransaction(async (transaction) => {
        await run("INSERT INTO settings (name, value) VALUES ('settled', '1')", [], transaction);
        await settle?.({ n: 1 }, transaction);
      });
      await settled;
    };
    const job = await beginOnce({ say: 'lost' });
    await pause(50);
    await expect(settled).rejects.toThrow('taken this work over');
    expect(await select("SELECT 1 FROM settings WHERE name = 'settled'")).toEqual([]);
    expect((await readJob(job.id)).state).toBe('running');
  });

  it('is handed on by a process that ends', async () => {
    let aborted = false;
    body = async ({ signal }) => {
      while (!signal.aborted) await pause(2);
      aborted = true;
    };
    const job = await begin({ say: 'left' });
    await pause(10);
    await stopJobs();
    await expect.poll(() => aborted).toBe(true);
    expect(await select('SELECT state, holder FROM jobs WHERE id = ?', [job.id])).toEqual([
      { state: 'waiting', holder: null },
    ]);
    // It takes nothing any more, not even what it has left.
    await lookAfterJobs();
    expect((await readJob(job.id)).state).toBe('running');
    const leave = useServer({});
    serveJobs([defineJob('test again', { again: true, run: () => Promise.resolve({ by: 'the next' }) })]);
    await lookAfterJobs();
    expect(await ended(job.id)).toMatchObject({ state: 'done', result: { by: 'the next' } });
    await leave();
  });
});

describe('laying out lists', () => {
  const none = { processes: 0, done: 0, total: 0 };
  it('is told of by each process that is at it for longer than a moment, until it is done or dead', async () => {
    expect(await prewarmProgress()).toEqual(none);
    // What takes no longer is told of nowhere.
    await reportProgress(9, 60_000).end();
    const [one, other] = [reportProgress(5, 10), reportProgress(7, 10)];
    one.at(2);
    other.at(3);
    await expect.poll(prewarmProgress, { timeout: 300_000 }).toEqual({ processes: 2, done: 5, total: 12 });
    one.at(4);
    await expect.poll(prewarmProgress, { timeout: 300_000 }).toEqual({ processes: 2, done: 7, total: 12 });
    await one.end();
    expect(await prewarmProgress()).toEqual({ processes: 1, done: 3, total: 7 });
    // One that died says nothing more; nobody takes over what is of its own, and it is forgotten in the end.
    await other.end();
    await run("UPDATE jobs SET state = 'running', heard = NOW(3) - INTERVAL 20 SECOND WHERE kind = 'lists'", []);
    expect(await prewarmProgress()).toEqual(none);
    await lookAfterJobs();
    const left = () =>
      select<{ n: number }>("SELECT COUNT(*) AS n FROM jobs WHERE kind = 'lists' AND state = 'running'");
    expect(Number((await left())[0]!.n)).toBe(2);
    await run("UPDATE jobs SET heard = NOW(3) - INTERVAL 2 HOUR WHERE kind = 'lists'", []);
    await deleteOldJobs();
    expect(Number((await left())[0]!.n)).toBe(0);
  });
});

describe('several processes', () => {
  const ROWS = 3000;
  let cookie = '';
  const asking = (app: App) => async (method: string, path: string, sent?: unknown) => {
    cookie ||= await ownerCookie();
    const file = typeof sent === 'string';
    const answer = await fetch(`${app.origin}/api/v1${path}`, {
      method,
      headers: { cookie, 'content-type': file ? 'application/octet-stream' : 'application/json' },
      body: sent === undefined ? undefined : file ? sent : JSON.stringify(sent),
    });
    return (await answer.json()) as Record<string, unknown> & { id: string; state: string; done: number };
  };
  /** Begins an import of so many rows; gives the number of the work. */
  async function beginImport(ask: ReturnType<typeof asking>, name: string): Promise<string> {
    const csv = `title,height\n${Array.from({ length: ROWS }, (_, i) => `${name} ${i},${i % 90}`).join('\n')}\n`;
    const received = await ask('PUT', '/imports?name=houses.csv', csv);
    const asked = { file: received.id, typeId: 'house', format: 'csv', targets: { title: '@title', height: 'height' } };
    return (await ask('POST', '/imports', asked)).id;
  }
  const begun = (ask: ReturnType<typeof asking>, id: string) =>
    expect
      .poll(async () => (await ask('GET', `/jobs/${id}`)).done, { timeout: 300_000, interval: 20 })
      .toBeGreaterThan(0);
  /** It comes to its end, and all rows are there once. */
  async function comesIn(ask: ReturnType<typeof asking>, id: string, name: string): Promise<void> {
    await expect
      .poll(async () => (await ask('GET', `/jobs/${id}`)).state, { timeout: 300_000, interval: 100 })
      .toBe('done');
    expect((await ask('GET', `/jobs/${id}`)).result).toMatchObject({ added: ROWS, refused: 0 });
    const rows = await select<{ n: number }>('SELECT COUNT(*) AS n FROM records WHERE title LIKE ?', [`${name} %`]);
    expect(Number(rows[0]!.n)).toBe(ROWS);
  }
  const triesOf = async (id: string) =>
    (await select<{ tries: number }>('SELECT tries FROM jobs WHERE id = ?', [id]))[0]!.tries;

  it('an import whose process is killed is brought to its end by another, once', async () => {
    apps.push(await startApp({ PLUM_SILENT: '2' }), await startApp({ PLUM_SILENT: '2' }));
    const [first, second] = apps.slice(-2).map(asking) as [ReturnType<typeof asking>, ReturnType<typeof asking>];
    const id = await beginImport(first, 'House');
    // Followed by the other process while the first one works.
    await begun(second, id);
    apps.at(-2)!.child.kill('SIGKILL');
    await comesIn(second, id, 'House');
    expect(await triesOf(id)).toBe(2);
    apps.at(-1)!.child.kill('SIGKILL');
  });

  it('an import is done beside the process that answers, and goes on with either of them killed', async () => {
    const app = await startApp({ PLUM_SILENT: '2', PLUM_WORKER: '1' });
    apps.push(app);
    const ask = asking(app);
    const besides = () =>
      readFileSync(`/proc/${app.child.pid}/task/${app.child.pid}/children`, 'utf8').trim().split(' ').map(Number);
    const [worker] = besides();
    const killed = await beginImport(ask, 'Killed');
    await begun(ask, killed);
    process.kill(worker!, 'SIGKILL');
    // Whoever answers goes on to; another worker is started.
    expect((await fetch(`${app.origin}/healthz`)).status).toBe(200);
    await comesIn(ask, killed, 'Killed');
    expect([await triesOf(killed), besides().length, besides()[0] === worker]).toEqual([2, 1, false]);
    const left = await beginImport(ask, 'Left');
    await begun(ask, left);
    const [next] = besides();
    app.child.kill('SIGKILL');
    // The worker hands on what it is at, and ends.
    await expect.poll(() => existsSync(`/proc/${next}`), { timeout: 300_000, interval: 50 }).toBe(false);
    const other = await startApp({ PLUM_SILENT: '2', PLUM_WORKER: '1' });
    apps.push(other);
    await comesIn(asking(other), left, 'Left');
    // Told to end, both do.
    const [last] = readFileSync(`/proc/${other.child.pid}/task/${other.child.pid}/children`, 'utf8').trim().split(' ');
    other.child.kill('SIGTERM');
    await expect
      .poll(() => [existsSync(`/proc/${last}`), other.child.exitCode ?? other.child.signalCode], { timeout: 300_000 })
      .toEqual([false, expect.anything()]);
  });
});
