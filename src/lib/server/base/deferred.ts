/** What a screen shows as soon as it is there: the value, or the promise of it where it takes longer. */
export interface Deferred<T> {
  of: T | Promise<T>;
}

/** So long a screen waits for what it could be shown without, in milliseconds; somebody who looks takes that for at once. */
const PATIENCE = 50;

/**
 * What `work` comes to where that is soon; else its promise, which goes to the screen after everything else (SvelteKit,
 * “Streaming with promises”). What fails soon is thrown, and later told to the screen.
 */
export async function deferred<T>(work: Promise<T>, patience = PATIENCE): Promise<Deferred<T>> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<Deferred<T>>((go) => (timer = setTimeout(() => go({ of: work }), patience)));
  try {
    return await Promise.race([work.then((of) => ({ of })), late]);
  } finally {
    clearTimeout(timer);
    // Whoever shows it is told.
    work.catch(() => undefined);
  }
}
