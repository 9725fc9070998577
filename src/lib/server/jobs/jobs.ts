import { randomUUID } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { newId } from '../../core/base/ids';
import type { Job } from '../../core/exchange/imports';
import { isUnreachable } from '../database/connect';
import { letVisitorsSee } from '../queries/shared-caches';
import { log } from '../base/log';
import {
  addJob,
  endJob,
  deleteJobs,
  noteJobProgress,
  jobById,
  putBackJob,
  silentJobs,
  stopJob,
  takeJob,
  type Ending,
  type JobRow,
} from '../queries/jobs';
import { notFound, Refusal } from '../base/refusal';
import { configuration, perServer } from '../base/server';

/**
 * Long work, kept in the database: any process takes it, all of them tell how far it is, and where its process dies it is
 * begun again by another one or ends with words.
 */
export interface Progress {
  signal: AbortSignal;
  report(done: number, total?: number): void;
  /**
   * Ends the work together with what it writes: either both are there, or neither. Throws where another process has
   * taken the work over.
   */
  settle?(result: unknown, transaction: Transaction): Promise<void>;
}

export interface By {
  id: number;
  name: string;
}

interface Work<Input, Result> {
  run(input: Input, by: By | undefined, progress: Progress): Promise<Result | undefined>;
  /** It may be begun again: it leaves nothing of itself before its end. Else it ends with words when its process dies. */
  again: boolean | ((input: Input) => boolean);
}

/** A kind of long work, by the name under which it stands in the database. */
export interface JobKind {
  readonly kind: string;
  readonly work: Work<unknown, unknown>;
}

/** Begins work of a kind. */
export interface JobStarter<Input, Result> extends JobKind {
  start(input: Input, by?: By): Promise<Job<Result>>;
}

interface Jobs {
  /** This process, among all that look after jobs. */
  holder: string;
  works: Map<string, Work<unknown, unknown>>;
  running: Map<string, Running>;
  /** This process ends, and takes nothing more. */
  leaving: boolean;
  /** Says to the process beside this one that there is something to do. */
  wakeWorker: () => void;
}
const jobs = perServer((): Jobs => ({
  holder: randomUUID(),
  works: new Map(),
  running: new Map(),
  leaving: false,
  wakeWorker: () => undefined,
}));

/** Says which kinds of long work this server does. */
export function serveJobs(kinds: readonly JobKind[]): void {
  for (const { kind, work } of kinds) jobs().works.set(kind, work);
}

/** Says how the process beside this one is told that there is something to do. */
export const wakeWorkerBy = (wake: () => void): void => void (jobs().wakeWorker = wake);

/** Whether a process beside this one does what this one begins; see scripts/lib/serve.mjs. */
export const hasWorkerProcess = (): boolean => configuration().work === 'beside';

/** A kind of long work: how it is done, and what begins it. */
export function defineJob<Input, Result>(kind: string, work: Work<Input, Result>): JobStarter<Input, Result> {
  const own: JobKind = { kind, work: work as Work<unknown, unknown> };
  return {
    ...own,
    async start(input, by) {
      serveJobs([own]);
      const id = newId('job');
      await addJob({ id, kind, asked: input, accountId: by?.id ?? 0, accountName: by?.name ?? '' });
      await (hasWorkerProcess() ? jobs().wakeWorker() : takeJobs());
      // What is stored under this id comes of this work.
      return (await readJob(id, by?.id)) as Job<Result>;
    },
  };
}

/** So many are worked on by one process. */
const AT_ONCE = 3;
/** How often a process says that it still works, in milliseconds. */
const HEARD = 1000;
/** After so many seconds without a word a process is taken for dead. */
const silent = (): number => configuration().silentSeconds;
/** How long a job is known after its end, in seconds. */
const KEPT = 3600;
/** A job whose process died so often ends with words. */
const MOST_TRIES = 3;

interface Running {
  row: JobRow;
  abort: AbortController;
  /** Another process has it now, or it was left; whatever it comes to here is nobody's. */
  lost: boolean;
  /** Its end is written together with what it did. */
  settled: boolean;
  done: number;
  total?: number;
}
/** Takes what waits, as far as this process has room for it. */
async function takeJobs(): Promise<void> {
  const { running, works, holder } = jobs();
  while (!jobs().leaving && running.size < AT_ONCE) {
    const row = await takeJob([...works.keys()], holder);
    if (!row) return;
    const own: Running = { row, abort: new AbortController(), lost: false, settled: false, done: 0 };
    running.set(row.id, own);
    void work(own).finally(() => {
      running.delete(row.id);
      return takeJobs().catch(() => undefined);
    });
  }
}

async function work(own: Running): Promise<void> {
  const { row, abort } = own;
  const { holder, works } = jobs();
  let telling = false;
  const beat = setInterval(() => {
    if (telling) return;
    telling = true;
    noteJobProgress(row.id, holder, own.done, own.total)
      .then((known) => {
        if (own.settled) return;
        own.lost ||= !known;
        if (!known || known.stopping) abort.abort();
      })
      // A database that is away for a moment hears of it later.
      .catch(() => undefined)
      .finally(() => (telling = false));
  }, HEARD);
  const progress: Progress = {
    signal: abort.signal,
    report(done, total) {
      own.done = done;
      if (total !== undefined) own.total = total;
    },
    async settle(result, transaction) {
      if (!(await endJob(row.id, holder, { state: 'done', result }, own, transaction)))
        throw new Error('Another process has taken this work over.');
      own.settled = true;
    },
  };
  const by = row.accountId ? { id: row.accountId, name: row.accountName } : undefined;
  let ending: Ending;
  try {
    const result = await (works.get(row.kind) as Work<unknown, unknown>).run(row.asked, by, progress);
    ending = { state: abort.signal.aborted ? 'cancelled' : 'done', result };
  } catch (error) {
    ending = { state: abort.signal.aborted ? 'cancelled' : 'failed' };
    if (error instanceof Refusal) ending = { ...ending, title: error.title, problems: error.problems };
    else if (!abort.signal.aborted) {
      log().error(error, 'Job failed');
      ending.title = 'Something went wrong on our side. Nothing was half kept; try again.';
    }
  }
  clearInterval(beat);
  if (!own.lost) await end(own, ending);
}

/** Says how a job ended, as often as it takes: the database may be away just then. */
async function end(own: Running, ending: Ending): Promise<void> {
  for (let tries = 0; tries < 60; tries++)
    try {
      await endJob(own.row.id, jobs().holder, ending, own);
      return;
    } catch (error) {
      if (!isUnreachable(error)) {
        log().error(error, 'Job result could not be stored');
        return;
      }
      await new Promise((done) => setTimeout(done, 1000));
    }
}

const mayAgain = ({ kind, asked, tries }: JobRow): boolean => {
  const again = jobs().works.get(kind)?.again ?? false;
  return tries < MOST_TRIES && (typeof again === 'function' ? again(asked) : again);
};

const LOST = 'The process that worked on this has ended before it was done.';

/** Begins again, or ends with words, what a process left or died over. */
async function handOn(row: JobRow): Promise<void> {
  const holder = row.holder ?? '';
  if (row.stopping) await endJob(row.id, holder, { state: 'cancelled' }, row as { done: number });
  else if (mayAgain(row)) await putBackJob(row.id, holder);
  else
    await endJob(
      row.id,
      holder,
      {
        state: 'failed',
        title: LOST,
        problems: [
          {
            at: '',
            what: row.done ? `It had come to ${row.done}; what was written until then is kept.` : 'It had just begun.',
            fix: 'Look at what is there, and begin it again.',
          },
        ],
      },
      row as { done: number },
    );
}

/** Takes what waits, and looks for what other processes died over. To be called again and again. */
export async function lookAfterJobs(): Promise<void> {
  const { works, running } = jobs();
  for (const row of await silentJobs([...works.keys()], silent()))
    // A process that was slow to say so still works on its own.
    if (!running.has(row.id)) await handOn(row);
  await takeJobs();
}

/** Hands on what this process works on, before it ends. */
export async function stopJobs(): Promise<void> {
  const own = jobs();
  own.leaving = true;
  await Promise.all(
    [...own.running.values()].map(async (job) => {
      job.lost = true;
      job.abort.abort();
      await handOn({ ...job.row, holder: own.holder, done: job.done, tries: job.row.tries - 1 });
    }),
  );
}

/** Forgets what ended long ago. */
export const deleteOldJobs = (): Promise<void> => deleteJobs(KEPT);

const jobOf = (row: JobRow): Job => {
  const own = row.state === 'running' ? jobs().running.get(row.id) : undefined;
  const total = own?.total ?? row.total ?? undefined;
  return {
    id: row.id,
    state: row.state === 'waiting' ? 'running' : row.state,
    done: own?.done ?? row.done,
    ...(total !== undefined && { total }),
    ...(row.result !== undefined && { result: row.result }),
    ...(row.title !== null && { title: row.title }),
    ...(row.problems && { problems: row.problems }),
  };
};

/** How far somebody's work is; nobody else sees it. */
export async function readJob(id: string, by = 0): Promise<Job> {
  const row = await jobById(id.slice(0, 100));
  if (row?.accountId !== by) throw notFound('work with this id; it may have ended long ago');
  // Whoever hears that it is done sees what it did.
  if (row.state === 'done') await letVisitorsSee();
  return jobOf(row);
}

export async function cancelJob(id: string, by = 0): Promise<Job> {
  await readJob(id, by);
  await stopJob(id);
  jobs().running.get(id)?.abort.abort();
  return readJob(id, by);
}
