import { eachOf, tableOf } from '../../core/columns/reading';
import { thereOf, type There } from '../../core/columns/there';
import { relationOf } from '../../core/model/field';
import type { ModelIndex } from '../../core/model/model-index';
import { filledCounts, linkedCount } from '../queries/counts';
import { currentCache } from '../queries/read-cache';
import { fromRecords } from '../queries/tables';

/** What there is of each type: how many records, under which terms, authors and hours. */
export const thereByType = (model: ModelIndex, seen: { drafts: boolean }): Promise<Map<string, There>> =>
  fromRecords(
    model,
    seen,
    (reading) => new Map(eachOf(model.types, ({ id }) => [id, thereOf(reading, tableOf(reading, id))] as const)),
  );

/** Of how many records of a type, drafts among them, each field has a value or anything related. */
export async function filledFields(model: ModelIndex, typeId: string): Promise<Map<string, number>> {
  const cache = await currentCache();
  const key = `filled ${typeId}`;
  const known = cache.get(key) as Map<string, number> | undefined;
  if (known) return known;
  const fields = model.type(typeId)?.fields ?? [];
  const values = await filledCounts(typeId);
  const out = new Map<string, number>();
  for (const field of fields) {
    const relation = relationOf(field);
    out.set(
      field.id,
      relation ? await linkedCount(typeId, relation.relationId, relation.side) : (values.get(field.id) ?? 0),
    );
  }
  cache.put(key, out);
  return out;
}

/** Adds up what all types have. */
export function summed<K>(there: Iterable<There>, of: (one: There) => ReadonlyMap<K, number>): Map<K, number> {
  const out = new Map<K, number>();
  for (const one of there) for (const [key, n] of of(one)) out.set(key, (out.get(key) ?? 0) + n);
  return out;
}
