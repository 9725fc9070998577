/**
 * Large libraries that few pages need. Node.js imports them at once; a browser, by the condition `browser` of the imports in
 * package.json, loads each when something is first drawn with it. Whoever draws is called when it has come, and draws again.
 */

const listeners = new Set<() => void>();
const loading = new Set<Promise<void>>();

/** A getter of what `load` gives: undefined until it has come. The first call begins to load it; so does one after a failure. */
export function onDemand<T>(load: () => Promise<T>): () => T | undefined {
  let value: T | undefined;
  let requested = false;
  return () => {
    if (value === undefined && !requested) {
      requested = true;
      const job = load().then(
        (loaded) => {
          value = loaded;
          loading.delete(job);
          for (const listener of listeners) listener();
        },
        (error: unknown) => {
          requested = false;
          loading.delete(job);
          throw error;
        },
      );
      loading.add(job);
    }
    return value;
  };
}

/** Calls a listener whenever something has come. */
export function onLoaded(listener: () => void): void {
  listeners.add(listener);
}

/** Waits for what is being loaded; whether there was anything, so that what was drawn without it is to be drawn again. */
export async function allLoaded(): Promise<boolean> {
  const jobs = [...loading];
  await Promise.all(jobs);
  return jobs.length > 0;
}
