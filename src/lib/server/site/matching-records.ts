import { LRUCache } from 'lru-cache';
import { localDay } from '../../core/base/write';
import type { ModelIndex } from '../../core/model/model-index';
import { makeEnv } from '../../core/paths/env';
import { compileRule } from '../../core/rules/compile';
import type { Target } from '../../core/schema/target';
import { ruleKey } from '../../core/serving/assignments';
import { freshVersion } from '../database/version';
import { loadRecords } from '../queries/load';
import { batchPool, drawComplete } from '../queries/pool';
import { recordIdsAfter } from '../queries/records';
import { perServer } from '../base/server';

/** Records are asked in groups of so many. */
const TOGETHER = 500;
/** What was found is kept for a model until anything is written, or the day ends. */
const cachedSets = perServer(() => new WeakMap<ModelIndex, LRUCache<string, Promise<ReadonlySet<number>>>>());

/** The numbers of the records of a type for which the rule of a target holds, each of them asked. */
export async function matchingRecords(
  target: Target & { on: 'rule' },
  model: ModelIndex,
): Promise<ReadonlySet<number>> {
  const today = localDay(new Date(), model.site.timeZone);
  const key = `${await freshVersion()} ${today} ${ruleKey(target)}`;
  const setsByModel = cachedSets();
  const sets = setsByModel.get(model) ?? new LRUCache<string, Promise<ReadonlySet<number>>>({ max: 20 });
  setsByModel.set(model, sets);
  const known = sets.get(key);
  if (known) return known;
  const found = askAll(target, model, today);
  sets.set(key, found);
  found.catch(() => sets.delete(key));
  return found;
}

async function askAll(
  { typeId, rule }: Target & { on: 'rule' },
  model: ModelIndex,
  today: string,
): Promise<Set<number>> {
  const asked = compileRule(rule, { recordTypeIds: [typeId], loops: [] }, model);
  const out = new Set<number>();
  for (let after = 0; ;) {
    const ids = await recordIdsAfter(typeId, after, TOGETHER);
    const records = await loadRecords(model, ids, { drafts: false });
    const batch = batchPool(model, { drafts: false });
    let holds: number[] = [];
    await drawComplete(batch, () => {
      holds = records.flatMap((record) =>
        asked.holds(makeEnv({ model, pool: batch.pool, today, record })) ? [record.id] : [],
      );
      return '';
    });
    for (const id of holds) out.add(id);
    if (ids.length < TOGETHER) return out;
    after = ids.at(-1) as number;
  }
}
