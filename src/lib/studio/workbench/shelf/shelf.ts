import { elementNamed } from '$lib/core/elements';
import { fold } from '$lib/core/base/text';
import type { ModelIndex } from '$lib/core/model/model-index';
import type { Path } from '$lib/core/schema/path';
import type { Scopes } from '$lib/core/paths/scopes';
import { beyond, reachable, type Reachable, type ReachGroup } from '$lib/core/paths/reach';
import { asWords } from '$lib/core/rules/explain';
import { steady } from '../../base/steady';
import type { Workbench } from '../state/workbench.svelte';

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
  /** How many elements read it. */
  uses: number;
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

/** What can be reached from scopes like these, found once for each state of the model. */
const reach = new WeakMap<ModelIndex, Map<string, { scopes: Scopes; groups: ReachGroup[] }>>();

function reachFrom(scopes: Scopes, model: ModelIndex): { scopes: Scopes; groups: ReachGroup[] } {
  let known = reach.get(model);
  if (!known) reach.set(model, (known = new Map()));
  const key = JSON.stringify(scopes);
  let found = known.get(key);
  if (!found) known.set(key, (found = { scopes, groups: reachable(scopes, model) }));
  return found;
}

/** Makes what the shelf shows: each scope of the template with its values in the record on screen. */
export function shelfMaker(): (wb: Workbench, search: string, opened: ReadonlySet<string>) => ShelfGroup[] {
  const keep = new Map<string, ReturnType<typeof steady<ShelfRow>>>();
  /** The words of values that are the same ones as before. */
  let said = new Map<string, { value: unknown; pool: unknown; words: string }>();

  return (wb, search, opened) => {
    const here = wb.scopesIn(wb.selection.id);
    const wanted = fold(search.trim());
    const uses = new Map<string, number>();
    const count = (path: Path) => uses.set(pathKey(path), (uses.get(pathKey(path)) ?? 0) + 1);
    for (const { path } of wb.uses)
      // What lies behind a relation is a use of the relation too.
      for (let n = path.steps.length; n > 0; n--)
        count(n === path.steps.length ? path : { ...path, steps: path.steps.slice(0, n) });
    const saying: typeof said = new Map();

    const fill = (group: ReachGroup, scopes: Scopes, inReach: boolean): ShelfGroup => {
      const env = wb.preview.envAt(scopes);
      const rows: ShelfRow[] = [];
      const add = (entry: Reachable, depth: number) => {
        const key = pathKey(entry.path);
        const value = entry.read(env);
        const before = said.get(key);
        const words =
          before && before.value === value && before.pool === env.pool && value !== undefined
            ? before.words
            : isNothing(value)
              ? 'empty'
              : asWords(value, entry.type, env);
        saying.set(key, { value, pool: env.pool, words });
        const open = opened.has(key);
        if (!wanted || fold(entry.label).includes(wanted) || fold(words).includes(wanted))
          rows.push({
            key,
            entry,
            depth,
            words,
            empty: isNothing(value),
            picture: entry.type.kind.family.slots.includes('picture') && typeof value === 'number' ? value : undefined,
            open,
            uses: uses.get(key) ?? 0,
            scopes,
          });
        if (open) for (const next of beyondOf(entry, scopes, wb.index)) add(next, depth + 1);
      };
      for (const entry of group.entries) add(entry, 0);
      let steadied = keep.get(group.from);
      if (!steadied) keep.set(group.from, (steadied = steady<ShelfRow>((row) => row.key)));
      return { from: group.from, name: group.name, scopes, inReach, rows: steadied(rows) };
    };

    const own = reachFrom(wb.scopes, wb.index);
    const top = own.groups.map((group) => fill(group, own.scopes, true));
    const loops = wb.selection.rows.flatMap(({ element }) => {
      const made = wb.compiledOf(element.id);
      if (!made?.loop || !elementNamed(element.kind)?.loop) return [];
      const inside = reachFrom(made.inside, wb.index);
      const group = inside.groups[0];
      return group
        ? [
            fill(
              group,
              inside.scopes,
              here.loops.some((loop) => loop.id === element.id),
            ),
          ]
        : [];
    });
    said = saying;
    const near = loops.filter((group) => group.inReach).reverse();
    const far = loops.filter((group) => !group.inReach);
    const site = top.filter((group) => group.from === 'site');
    return [...near, ...top.filter((group) => group.from !== 'site'), ...far, ...site];
  };
}

const isNothing = (value: unknown): boolean => value === undefined || (Array.isArray(value) && value.length === 0);

/** What lies behind values, found once for each of them. */
const behind = new WeakMap<Reachable, Reachable[]>();

function beyondOf(entry: Reachable, scopes: Scopes, model: ModelIndex): Reachable[] {
  let found = behind.get(entry);
  if (!found) behind.set(entry, (found = beyond(entry, scopes, model)));
  return found;
}
