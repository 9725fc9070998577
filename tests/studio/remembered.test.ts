import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { forgetRemembered, recall, remember } from '../../src/lib/studio/base/remembered';

const Columns = z.array(z.string());

function storeOf(start: Record<string, string> = {}) {
  const held = new Map(Object.entries(start));
  return {
    held,
    getItem: (key: string) => held.get(key) ?? null,
    setItem: (key: string, value: string) => void held.set(key, value),
    removeItem: (key: string) => void held.delete(key),
  };
}
const broken = () => {
  throw new Error('The store is closed.');
};

describe('what a computer remembers', () => {
  it('comes back as it was', () => {
    const store = storeOf();
    remember('a', ['x', 'y'], store);
    expect(recall('a', Columns, store)).toEqual(['x', 'y']);
    forgetRemembered('a', store);
    expect(recall('a', Columns, store)).toBeUndefined();
  });

  it.each(['{"not": "a list"}', '[1, 2]', 'no JSON', 'null', '"x"', `["${'x'.repeat(2_000_001)}"]`])(
    'is nothing where it is something else, and is taken away: %.40s',
    (text) => {
      const store = storeOf({ a: text });
      expect(recall('a', Columns, store)).toBeUndefined();
      expect(store.held.has('a')).toBe(false);
    },
  );

  it('is nothing where the store is closed or missing, and nobody is stopped by that', () => {
    const closed = { getItem: broken, setItem: broken, removeItem: broken };
    expect(recall('a', Columns, closed)).toBeUndefined();
    expect(() => remember('a', [], closed)).not.toThrow();
    expect(() => forgetRemembered('a', closed)).not.toThrow();
    expect(recall('a', Columns)).toBeUndefined();
  });
});
