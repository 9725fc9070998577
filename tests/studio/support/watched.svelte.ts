import { Coming } from '../../../src/lib/studio/base/coming.svelte';

/** A `Coming` as on a screen that is given one thing after the other. */
export function watched<T>(first: T | Promise<T>): { coming: Coming<T>; give(next: T | Promise<T>): void } {
  let given = $state.raw({ of: first });
  return { coming: new Coming(() => given), give: (next) => void (given = { of: next }) };
}
