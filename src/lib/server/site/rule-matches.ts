import { localDay } from '../../core/base/write';
import type { ModelIndex } from '../../core/model/model-index';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import { compileRule } from '../../core/rules/compile';
import type { Target } from '../../core/schema/target';
import { matchesFrom } from '../../core/serving/assignments';
import { fromColumns } from '../queries/tables';
import { matchingRecords } from './matching-records';

/** For how many published records a kept rule holds, of how many there are. */
export interface RuleMatches {
  holds: number;
  of: number;
}

/** For how many published records each kept rule holds, by its id; for none where it cannot be asked. */
export async function ruleMatches(model: ModelIndex): Promise<Record<string, RuleMatches>> {
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  const all = await Promise.all(
    model.rules.map(async ({ id, typeId, rule }): Promise<[string, RuleMatches]> => {
      // Its type was deleted.
      if (!model.type(typeId)) return [id, { holds: 0, of: 0 }];
      const target: Target & { on: 'rule' } = { on: 'rule', typeId, rule };
      const { holds, of } = await fromColumns((tables) => matchesFrom(tables, target, env));
      if (compileRule(rule, { recordTypeIds: [typeId], loops: [] }, model).problems.length)
        return [id, { holds: 0, of }];
      return [id, { holds: holds ?? (await matchingRecords(target, model)).size, of }];
    }),
  );
  return Object.fromEntries(all);
}
