import { elementNamed } from '$lib/core/elements';
import { fold } from '$lib/core/text';
import { compilePath } from '$lib/core/paths/compile';
import type { Env } from '$lib/core/paths/env';
import type { Path, Scopes } from '$lib/core/paths/path';
import { beyond, reachable, type Reachable, type ReachGroup } from '$lib/core/paths/reach';
import { asWords } from '$lib/core/rules/explain';
import type { Use } from '$lib/core/templates/tree';
import type { Workbench } from './workbench.svelte';

export const pathKey = (path: Path): string => `${path.from}|${path.steps.join('/')}`;

export interface ShelfRow {
  key: string;
  entry: Reachable;
  depth: number;
  words: string;
  empty: boolean;
  /** The picture to show instead of words. */
  picture?: number;
  open: boolean;
  uses: Use[];
  /** Of the group it stands in. */
  scopes: Scopes;
}

export interface ShelfGroup {
  from: string;
  name: string;
  scopes: Scopes;
  /** Whether the selected place can read from here. */
  inReach: boolean;
  rows: ShelfRow[];
}

/** What the shelf shows: each scope of the template with its values in the record on screen. */
export function shelfGroups(wb: Workbench, search: string, opened: ReadonlySet<string>): ShelfGroup[] {
  const here = wb.scopesIn(wb.selected);
  const wanted = fold(search.trim());
  const usesByKey = new Map<string, Use[]>();
  for (const use of wb.uses) {
    const key = pathKey(use.path);
    usesByKey.set(key, [...(usesByKey.get(key) ?? []), use]);
    // What lies behind a relation is a use of the relation too.
    for (let n = use.path.steps.length - 1; n > 0; n--) {
      const above = pathKey({ ...use.path, steps: use.path.steps.slice(0, n) });
      usesByKey.set(above, [...(usesByKey.get(above) ?? []), use]);
    }
  }

  const fill = (group: ReachGroup, scopes: Scopes, inReach: boolean): ShelfGroup => {
    const env = wb.envAt(scopes);
    const rows: ShelfRow[] = [];
    const add = (entry: Reachable, depth: number) => {
      const row = shelfRow(entry, depth, scopes, env, wb, usesByKey, opened);
      const found = !wanted || fold(row.entry.label).includes(wanted) || fold(row.words).includes(wanted);
      if (found) rows.push(row);
      if (row.open) for (const next of beyond(entry, scopes, wb.index)) add(next, depth + 1);
    };
    for (const entry of group.entries) add(entry, 0);
    return { from: group.from, name: group.name, scopes, inReach, rows };
  };

  const top = reachable(wb.scopes, wb.index).map((group) => fill(group, wb.scopes, true));
  const loops = wb.rows.flatMap(({ element }) => {
    const made = wb.compiledOf(element.id);
    if (!made?.loop || !elementNamed(element.kind)?.loop) return [];
    const [own] = reachable(made.inside, wb.index);
    return own
      ? [
          fill(
            own,
            made.inside,
            here.loops.some((loop) => loop.id === element.id),
          ),
        ]
      : [];
  });
  const near = loops.filter((group) => group.inReach).reverse();
  const far = loops.filter((group) => !group.inReach);
  const site = top.filter((group) => group.from === 'site');
  return [...near, ...top.filter((group) => group.from !== 'site'), ...far, ...site];
}

function shelfRow(
  entry: Reachable,
  depth: number,
  scopes: Scopes,
  env: Env,
  wb: Workbench,
  uses: Map<string, Use[]>,
  opened: ReadonlySet<string>,
): ShelfRow {
  const key = pathKey(entry.path);
  const made = compilePath(entry.path, scopes, wb.index);
  const value = made.ok ? made.value.read(env) : undefined;
  const empty = value === undefined || (Array.isArray(value) && value.length === 0);
  const isPicture = entry.type.kind.family === 'picture' && typeof value === 'number';
  return {
    key,
    entry,
    depth,
    words: empty ? 'empty' : asWords(value, entry.type, env),
    empty,
    picture: isPicture ? value : undefined,
    open: opened.has(key),
    uses: uses.get(key) ?? [],
    scopes,
  };
}
