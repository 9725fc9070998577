import type { Env } from '../paths/env';
import type { Scopes } from '../paths/scopes';
import type { CompiledLoop } from './compiled';
import { iterationAt } from './evaluate';
import { groupItems } from './group';

/** Enters the loops of a scope at these turns, from 0 and by their ids; a turn that is not there is the last. */
export function enterIterations(
  env: Env,
  scopes: Pick<Scopes, 'loops'>,
  loopOf: (id: string) => CompiledLoop | undefined,
  turns: Readonly<Record<string, number>>,
): void {
  for (const scope of scopes.loops) {
    const loop = loopOf(scope.id);
    if (!loop) continue;
    const list = env.pool.list(loop, env);
    const at = Math.min(turns[scope.id] ?? 0, list.items.length - 1);
    const item = list.items[at];
    if (!item) continue;
    const first = (list.page - 1) * (loop.perPage ?? 0) + 1;
    const turn = iterationAt(loop, item, first + at, list.total);
    if (loop.group) {
      const own = groupItems(loop, env, list.items, first).find((one) => one.items.some((i) => i.item === item));
      turn.group = own && { label: own.label, size: own.items.length };
    }
    env.turns[scope.depth] = turn;
  }
}
