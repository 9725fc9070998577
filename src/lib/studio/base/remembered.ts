import type { z } from 'zod';

type Storage = Pick<globalThis.Storage, 'getItem' | 'setItem' | 'removeItem'>;

/** The store of this browser; undefined where it is forbidden or there is none. */
function ownStorage(): Storage | undefined {
  try {
    return globalThis.localStorage;
  } catch {
    return undefined;
  }
}

/** Longer than this nothing is kept. */
const MOST = 2_000_000;

/**
 * What this computer remembers under a key, as the schema has it; undefined where there is nothing, where it cannot be
 * read, or where it is something else by now. What is of no use is taken away.
 */
export function recall<T>(key: string, schema: z.ZodType<T>, storage = ownStorage()): T | undefined {
  try {
    const text = storage?.getItem(key);
    if (!text) return undefined;
    const parsed = text.length <= MOST ? schema.safeParse(JSON.parse(text)) : undefined;
    if (parsed?.success) return parsed.data;
  } catch {
    // No JSON, or a store that cannot be read: as good as nothing.
  }
  forgetRemembered(key, storage);
  return undefined;
}

/** Keeps something on this computer. Where there is no room for it, or no store, it is not kept, and nothing else happens. */
export function remember(key: string, value: unknown, storage = ownStorage()): void {
  try {
    storage?.setItem(key, JSON.stringify(value));
  } catch {
    // The screen itself still has it.
  }
}

export function forgetRemembered(key: string, storage = ownStorage()): void {
  try {
    storage?.removeItem(key);
  } catch {
    // Nothing can be done about it.
  }
}
