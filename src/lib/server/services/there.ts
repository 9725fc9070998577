import { localDay } from '../../core/base/write';
import { eachOf, orLacking, tableOf, type Reading, type Tables } from '../../core/columns/reading';
import { filledOf, thereOf, type There } from '../../core/columns/there';
import type { ModelIndex } from '../../core/model/model-index';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import { fromColumns } from '../queries/tables';

/** A question that is about no list: what starts at a record is read of each. */
const readingOf = (model: ModelIndex, tables: Tables, drafts: boolean): Reading => ({
  ...{ own: 'record', model, tables, drafts },
  env: makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) }),
});

/** What there is of each type: how many records, under which terms, authors and hours. */
export const thereByType = (model: ModelIndex, { drafts }: { drafts: boolean }): Promise<Map<string, There>> =>
  fromColumns((tables) =>
    orLacking(() => {
      const reading = readingOf(model, tables, drafts);
      return new Map(eachOf(model.types, ({ id }) => [id, thereOf(reading, tableOf(reading, id))] as const));
    }),
  );

/** Of how many records of a type, drafts among them, each field has a value or anything related. */
export const filledFields = (model: ModelIndex, typeId: string): Promise<Map<string, number>> =>
  fromColumns((tables) =>
    orLacking(() => {
      const reading = readingOf(model, tables, true);
      return filledOf(reading, tableOf(reading, typeId), model.type(typeId)?.fields ?? []);
    }),
  );

/** Adds up what all types have. */
export function summed<K>(there: Iterable<There>, of: (one: There) => ReadonlyMap<K, number>): Map<K, number> {
  const out = new Map<K, number>();
  for (const one of there) for (const [key, n] of of(one)) out.set(key, (out.get(key) ?? 0) + n);
  return out;
}
