import { isMainThread, parentPort, Worker, workerData, type WorkerOptions } from 'node:worker_threads';
import { createBirpc, type BirpcReturn } from 'birpc';

/** An object that lives in a thread of its own. */
export interface Thread<Made extends object> {
  /** Its methods; they reject where its thread has died, too. */
  ask: BirpcReturn<Made>;
  /** Ends the thread, whatever it is at. */
  end(): Promise<void>;
}

/** A file that threads are started with. */
export interface ThreadFile<Data, Made> {
  file: string;
  /** What it makes of what it is given. */
  make: (data: Data) => Made;
}

/** What a thread is given. */
interface Given {
  file: string;
  data: unknown;
}

/** Work may take as long as it takes; its thread says when it has died. */
const ANY_TIME = { timeout: -1 };

/** Sources that are not built are read by the loader that their own process has. */
const fromSources = (file: string): string =>
  `import('tsx/esm/api').then(({ register }) => { register(); return import(${JSON.stringify(file)}); })`;

/**
 * Starts a thread with a file that calls `exposeInThread`. What is asked and answered is copied (HTML standard, 2.7.3,
 * structured clone); errors keep their name and message. `megabytes` bounds its heap: a thread that needs more dies, and what was asked
 * of it is rejected with the code `ERR_WORKER_OUT_OF_MEMORY`.
 */
export function startThread<Data, Made extends object>(
  { file }: ThreadFile<Data, Made>,
  data: Data,
  { megabytes }: { megabytes?: number } = {},
): Thread<Made> {
  const given: Given = { file, data };
  const options: WorkerOptions = {
    workerData: given,
    ...(megabytes !== undefined && { resourceLimits: { maxOldGenerationSizeMb: megabytes } }),
  };
  const worker = file.endsWith('.ts')
    ? new Worker(fromSources(file), { ...options, eval: true })
    : new Worker(new URL(file), options);
  const ask = createBirpc<Made>(
    {},
    { ...ANY_TIME, post: (message) => worker.postMessage(message), on: (hear) => void worker.on('message', hear) },
  );
  worker.once('error', (error) => ask.$close(error as Error));
  worker.once('exit', () => ask.$close(new Error('A thread has ended before it was done.')));
  return { ask, end: async () => void (await worker.terminate()) };
}

/**
 * In a thread that was started with this file, `file` being its `import.meta.url`, what is asked is answered by what `make`
 * makes; elsewhere this does nothing. A file that calls it is imported by `import()` alone, so that it stays a file of its
 * own when it is built.
 */
export function exposeInThread<Data, Made extends object>(
  file: string,
  make: (data: Data) => Made,
): ThreadFile<Data, Made> {
  const [port, given] = [parentPort, workerData as Given | null];
  if (!isMainThread && port && given?.file === file)
    createBirpc<object, Made>(make(given.data as Data), {
      ...ANY_TIME,
      bind: 'functions',
      post: (message) => port.postMessage(message),
      on: (hear) => void port.on('message', hear),
    });
  return { file, make };
}
