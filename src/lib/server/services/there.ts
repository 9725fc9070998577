import { eachOf, tableOf } from '../../core/columns/reading';
import { filledOf, thereOf, type There } from '../../core/columns/there';
import type { ModelIndex } from '../../core/model/model-index';
import { fromRecords } from '../queries/tables';

/** What there is of each type: how many records, under which terms, authors and hours. */
export const thereByType = (model: ModelIndex, seen: { drafts: boolean }): Promise<Map<string, There>> =>
  fromRecords(
    model,
    seen,
    (reading) => new Map(eachOf(model.types, ({ id }) => [id, thereOf(reading, tableOf(reading, id))] as const)),
  );

/**
 * Of how many records of a type, drafts among them, each field has a value or anything related. Asked field by field, since
 * that reads every value of the type where nobody asked before, and everybody else goes first.
 */
export async function filledFields(model: ModelIndex, typeId: string): Promise<Map<string, number>> {
  const out = new Map<string, number>();
  for (const field of model.type(typeId)?.fields ?? []) {
    const filled = await fromRecords(model, { drafts: true }, (reading) =>
      filledOf(reading, tableOf(reading, typeId), [field]),
    );
    for (const [id, n] of filled) out.set(id, n);
  }
  return out;
}

/** Adds up what all types have. */
export function summed<K>(there: Iterable<There>, of: (one: There) => ReadonlyMap<K, number>): Map<K, number> {
  const out = new Map<K, number>();
  for (const one of there) for (const [key, n] of of(one)) out.set(key, (out.get(key) ?? 0) + n);
  return out;
}
