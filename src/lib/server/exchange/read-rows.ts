import { Refusal } from '../base/refusal';
import { startThread } from '../threads/thread';
import type { SourceFile, SourceRow } from './sources';

export interface ReadBounds {
  /** Of the thread's heap. */
  megabytes: number;
  /** For one batch of rows, by the clock of the thread's process. */
  milliseconds: number;
}
/** A row has 6 MB at most, and a batch is held twice while it is copied. A batch takes far less than a second where no file means harm. */
const BOUNDS: ReadBounds = { megabytes: 768, milliseconds: 60_000 };

const refused = (what: string): Refusal =>
  new Refusal(422, 'The file cannot be read.', [
    { at: '', what, fix: 'Check that it is what its name says, or split it into smaller files.' },
  ]);

/**
 * The rows of a file in batches, read by a thread of its own within bounds of memory and time; while a batch is worked on the
 * next one is read. Throws a refusal (422) where the file cannot be read or goes beyond a bound.
 */
export async function* readRows(
  file: SourceFile,
  signal?: AbortSignal,
  bounds: ReadBounds = BOUNDS,
): AsyncGenerator<SourceRow[]> {
  const { readThread } = await import('./read-thread');
  const thread = startThread(readThread, file, { megabytes: bounds.megabytes });
  const next = async () => {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<never>((_, fail) => {
      timer = setTimeout(
        () => fail(refused(`Reading the next rows takes longer than ${bounds.milliseconds / 1000} s.`)),
        bounds.milliseconds,
      );
    });
    try {
      return await Promise.race([thread.ask.next(), late]);
    } catch (error) {
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw refused(`Reading it takes more than ${bounds.megabytes} MB of memory.`);
      throw error;
    } finally {
      clearTimeout(timer);
    }
  };
  try {
    for (let coming = next(); ;) {
      const batch = await coming;
      if ('refused' in batch) throw new Refusal(batch.refused.status, batch.refused.title, batch.refused.problems);
      if (!batch.rows.length || signal?.aborted) return;
      coming = next();
      // Whoever asks for no more hears of no failure of it.
      coming.catch(() => undefined);
      yield batch.rows;
    }
  } finally {
    await thread.end();
  }
}
