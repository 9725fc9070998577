import { newId } from '../../core/base/ids';
import type { Job } from '../../core/exchange/imports';
import { log } from '../log';
import { letItBeSeen } from '../database/version';
import { notFound, Refusal } from '../refusal';

type Known = Job & { abort: AbortController; by: number };
const jobs = new Map<string, Known>();
/** How long a job is known after its end, in milliseconds. */
const KEPT = 3_600_000;

export interface Progress {
  signal: AbortSignal;
  report(done: number, total?: number): void;
}

/** Begins work for somebody and gives back at once; how it goes on is asked with `readJob`. */
export function startJob(work: (progress: Progress) => Promise<unknown>, by = 0): Job {
  const abort = new AbortController();
  const job: Known = { id: newId('job'), state: 'running', done: 0, abort, by };
  jobs.set(job.id, job);
  const report = (done: number, total?: number) => {
    job.done = done;
    if (total !== undefined) job.total = total;
  };
  void work({ signal: abort.signal, report })
    .then(async (result) => {
      await letItBeSeen();
      job.state = abort.signal.aborted ? 'cancelled' : 'done';
      job.result = result;
    })
    .catch((error: unknown) => {
      job.state = abort.signal.aborted ? 'cancelled' : 'failed';
      if (error instanceof Refusal) {
        job.title = error.title;
        job.problems = error.problems;
      } else if (!abort.signal.aborted) {
        log.error(error, 'A job has failed');
        job.title = 'Something went wrong on our side. Nothing was half kept; try again.';
      }
    })
    .finally(() => setTimeout(() => jobs.delete(job.id), KEPT).unref());
  return readJob(job.id, by);
}

/** How far somebody's work is; nobody else sees it. */
export function readJob(id: string, by = 0): Job {
  const job = jobs.get(id);
  if (job?.by !== by) throw notFound('work with this id; it may have ended long ago');
  const { abort: _, by: __, ...rest } = job;
  return rest;
}

export function cancelJob(id: string, by = 0): Job {
  const job = jobs.get(id);
  if (job?.by !== by) throw notFound('work with this id');
  if (job.state === 'running') job.abort.abort();
  return readJob(id, by);
}
