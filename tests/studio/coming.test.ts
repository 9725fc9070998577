import { describe, expect, it } from 'vitest';
import { watched } from './support/watched.svelte';

describe('what a screen gets later', () => {
  it('is there at once, comes, fails, and is nobody else’s', async () => {
    const { coming, give } = watched<number>(1);
    const settled = () => new Promise((go) => setTimeout(go));
    expect([coming.now, coming.failed]).toEqual([1, false]);
    let [come, fail] = [(_: number): void => undefined, (_: Error): void => undefined];
    const first = new Promise<number>((done) => (come = done));
    give(first);
    expect([coming.now, coming.failed]).toEqual([undefined, false]);
    // Another one was asked for before the first has come.
    const second = new Promise<number>((_, failing) => (fail = failing));
    give(second);
    come(2);
    await settled();
    expect([coming.now, coming.failed]).toEqual([undefined, false]);
    fail(new Error('No.'));
    await settled();
    expect([coming.now, coming.failed]).toEqual([undefined, true]);
    give(Promise.resolve(3));
    expect([coming.now, coming.failed]).toEqual([undefined, false]);
    await settled();
    expect([coming.now, coming.failed]).toEqual([3, false]);
  });
});
