import type { Job } from '$lib/core/exchange/imports';
import { api } from '$lib/studio/base/api';

/** Follows work on the server until it ends. `seen` is told of every step. */
export async function follow<R>(job: Job<R>, seen: (job: Job<R>) => void): Promise<Job<R>> {
  let now = job;
  let misses = 0;
  seen(now);
  while (now.state === 'running') {
    await new Promise((done) => setTimeout(done, 250));
    try {
      // What work comes to is known by what began it.
      now = (await api('GET /jobs/{jobId}', { jobId: job.id })) as Job<R>;
      misses = 0;
      seen(now);
    } catch (error) {
      // A server that is gone for a moment may come back.
      if (++misses > 40) throw error;
    }
  }
  return now;
}
