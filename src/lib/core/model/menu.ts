import type { MenuEntry } from '../schema/menu';

/** An entry with its depth, from 0, and its place among those beside it. */
export interface MenuRow {
  entry: MenuEntry;
  depth: number;
  at: number;
  of: number;
}

/** The entries of a menu from top to bottom, each before those below it. */
export const menuRows = (entries: readonly MenuEntry[], depth = 0): MenuRow[] =>
  entries.flatMap((entry, at) => [{ entry, depth, at, of: entries.length }, ...menuRows(entry.below, depth + 1)]);

/** The entries with one of them as `change` makes it, or without it. */
export const withEntry = (
  entries: readonly MenuEntry[],
  id: string,
  change: (entry: MenuEntry) => MenuEntry | undefined,
): MenuEntry[] =>
  entries.flatMap((entry) => {
    const own = entry.id === id ? change(entry) : entry;
    return own ? [{ ...own, below: withEntry(own.below, id, change) }] : [];
  });

/** Moves an entry with all below it: among those beside it, below the one before it, or out behind the one above it. */
export function moveEntry(entries: readonly MenuEntry[], id: string, how: 'up' | 'down' | 'in' | 'out'): MenuEntry[] {
  const at = entries.findIndex((entry) => entry.id === id);
  const list = [...entries];
  if (at >= 0) {
    const [entry] = list.splice(at, 1);
    const before = list[at - 1];
    if (!entry || how === 'out') return [...entries];
    if (how === 'in') {
      if (!before) return [...entries];
      list[at - 1] = { ...before, below: [...before.below, entry] };
    } else list.splice(Math.max(0, how === 'up' ? at - 1 : at + 1), 0, entry);
    return list;
  }
  return list.flatMap((entry) => {
    const child = entry.below.find((one) => one.id === id);
    if (child && how === 'out') return [{ ...entry, below: entry.below.filter((one) => one !== child) }, child];
    return [{ ...entry, below: moveEntry(entry.below, id, how) }];
  });
}
