import { describe, expect, it } from 'vitest';
import { startThread } from '../../src/lib/server/threads/thread';
import { countingThread } from '../support/counting-thread';

describe('an object in a thread of its own', () => {
  it('is asked like one that is here, and keeps what it has come to', async () => {
    const [one, two] = [startThread(countingThread, { from: 1 }), startThread(countingThread, { from: 100 })];
    expect(await Promise.all([one.ask.next(1), one.ask.next(5), two.ask.next(1)])).toEqual([2, 7, 101]);
    // Whatever can be copied comes over as it is.
    expect(await one.ask.later()).toEqual(new Map([['now', 7]]));
    await expect(one.ask.fail()).rejects.toMatchObject({ name: 'RangeError', message: 'It was at 7.' });
    expect(await one.ask.next(1)).toBe(8);
    await Promise.all([one.end(), two.end()]);
  });

  it('leaves nobody waiting when it dies, leaves or is ended', async () => {
    const thread = () => startThread(countingThread, { from: 0 });
    const waits = async (how: (one: ReturnType<typeof thread>) => unknown) => {
      const one = thread();
      const waiting = one.ask.never();
      const asked = Promise.resolve(how(one)).catch(() => undefined);
      await expect(waiting).rejects.toThrow();
      await asked;
      await expect(one.ask.next(1)).rejects.toThrow();
    };
    await waits((one) => one.ask.die());
    await waits((one) => one.ask.leave());
    await waits((one) => one.end());
  });
});
