import type { Problem } from '$lib/core/result';
import { send } from '$lib/studio/request';

export interface JobView<R> {
  id: string;
  state: 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total?: number;
  result?: R;
  title?: string;
  problems?: Problem[];
}

/** Follows work on the server until it ends. `seen` is told of every step. */
export async function follow<R>(job: JobView<R>, seen: (job: JobView<R>) => void): Promise<JobView<R>> {
  let now = job;
  let misses = 0;
  seen(now);
  while (now.state === 'running') {
    await new Promise((done) => setTimeout(done, 250));
    try {
      now = await send<JobView<R>>('GET', `/api/jobs/${job.id}`);
      misses = 0;
      seen(now);
    } catch (error) {
      // A server that is gone for a moment may come back.
      if (++misses > 40) throw error;
    }
  }
  return now;
}

/** Sends a file with its progress, from 0 to 1; gives what the server answers. */
export function sendWithProgress<T>(
  method: 'PUT' | 'POST',
  address: string,
  file: File,
  seen: (part: number) => void,
): { answer: Promise<T>; abort: () => void } {
  const request = new XMLHttpRequest();
  const answer = new Promise<T>((done, failed) => {
    request.open(method, address);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (event) => seen(event.total ? event.loaded / event.total : 0);
    request.onerror = () => failed(new Error('The server cannot be reached. Try again.'));
    request.onabort = () => failed(new Error('Cancelled.'));
    request.onload = () => {
      let body: (T & { title?: string; message?: string; problems?: Problem[] }) | undefined;
      try {
        body = JSON.parse(request.responseText) as typeof body;
      } catch {
        // The status says enough.
      }
      if (request.status < 300 && body) done(body);
      else
        failed(
          new Error(
            [
              body?.title ?? body?.message ?? `The server answered ${request.status}.`,
              ...(body?.problems ?? []).map((p) => `${p.at ? `${p.at}: ` : ''}${p.what} ${p.fix ?? ''}`),
            ].join(' '),
          ),
        );
    };
    request.send(file);
  });
  return { answer, abort: () => request.abort() };
}
