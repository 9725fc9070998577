import { exposeInThread } from '../../src/lib/server/threads/thread';

/** Counts on from a number, and can do all that goes wrong in a thread. */
export const countingThread = exposeInThread(import.meta.url, ({ from }: { from: number }) => {
  let now = from;
  return {
    next: (by: number): number => (now += by),
    later: async (): Promise<Map<string, number>> => Promise.resolve(new Map([['now', now]])),
    fail: (): never => {
      throw new RangeError(`It was at ${now}.`);
    },
    die: (): void => {
      setImmediate(() => {
        throw new Error('Dead.');
      });
    },
    leave: (): never => process.exit(0),
    never: (): Promise<never> => new Promise(() => setTimeout(() => undefined, 1e8)),
  };
});
