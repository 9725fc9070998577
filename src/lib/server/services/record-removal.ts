import { placesOfFields, putInOrder } from '../queries/types';
import { lockHeads, lockRows, readRows, recordIdsOfType, typesById, writeValues } from '../queries/records';
import { recordsMentioning } from '../queries/record-parts';
import { countRecords, recount } from '../queries/counts';
import { modelMoved } from '../queries/site';
import type { Transaction } from 'sequelize';
import type { ContentType } from '../../core/schema/model';
import type { Field } from '../../core/model/model';
import { withoutRefs } from '../../core/model/kinds/rows';
import { inTransaction } from '../database/connect';
import { notFound, Refusal } from '../base/refusal';
import { readModel, readModels } from './model';
import { reindex, writeIndex, writeMentions, writeUnique } from './record-parts';
import { beginRemoval, restore, sweep } from './removal';

/** Deletes records with their links, takes them out of the values that pointed at them, and tells how to undo it. */
export async function deleteRecords(ids: number[], what?: string): Promise<{ removal: string; deleted: number }> {
  return inTransaction((transaction) => removeRecords(ids, what, transaction));
}

export async function removeRecords(
  ids: number[],
  what: string | undefined,
  transaction: Transaction,
  into?: string,
): Promise<{ removal: string; deleted: number }> {
  const rows = await lockHeads(ids, transaction);
  const first = rows[0];
  if (!first && !into) throw notFound('record with this number');
  const removal =
    into ??
    (await beginRemoval(what ?? (rows.length === 1 ? `“${first?.title}”` : `${rows.length} records`), transaction));
  for (let i = 0; i < rows.length; i += 500) {
    const batch = rows.slice(i, i + 500).map((row) => row.id);
    await forgetTargets('record', batch, removal, transaction);
    await sweep(
      removal,
      [
        { table: 'links', column: 'a_id', values: batch },
        { table: 'links', column: 'b_id', values: batch },
        { table: 'record_terms', column: 'record_id', values: batch },
        { table: 'records', column: 'id', values: batch },
      ],
      transaction,
    );
  }
  const counts = new Map<string, number>();
  for (const row of rows)
    counts.set(`${row.typeId} ${row.status}`, (counts.get(`${row.typeId} ${row.status}`) ?? 0) + 1);
  for (const [key, n] of counts) {
    const [typeId = '', status = ''] = key.split(' ');
    await countRecords(typeId, status, -n, transaction);
  }
  return { removal, deleted: rows.length };
}

/** Takes what is about to go out of the values of every record that points at it. Their former state is kept for undo. */
export async function forgetTargets(
  target: 'record' | 'media',
  ids: number[],
  removal: string,
  transaction: Transaction,
): Promise<void> {
  const { kept } = await readModels(transaction);
  const holders = (await recordsMentioning(target, ids, transaction)).filter(
    (id) => target === 'media' || !ids.includes(id),
  );
  if (!holders.length) return;
  await sweep(removal, [{ table: 'records', column: 'id', values: holders, stay: true }], transaction);
  const gone = { records: target === 'record' ? ids : [], media: target === 'media' ? ids : [] };
  const typeOf = await typesOf(holders, kept, transaction);
  for (const [type, own] of typeOf) {
    const records = await lockRows(own, transaction);
    for (const record of records) {
      for (const field of type.fields) {
        const value = record.values[field.id];
        if (value === undefined) continue;
        const left = withoutRefs(field, value, gone);
        if (left === undefined) delete record.values[field.id];
        else record.values[field.id] = left;
      }
      await writeValues(record, transaction);
    }
    await writeIndex(type, records, transaction);
    await writeMentions(type, records, transaction);
  }
}

export async function typesOf(
  ids: number[],
  types: readonly ContentType[],
  transaction: Transaction,
): Promise<Map<ContentType, number[]>> {
  const known = new Map(types.map((type) => [type.id, type]));
  const rows = await typesById(ids, transaction);
  const out = new Map<ContentType, number[]>();
  for (const row of rows) {
    const type = known.get(row.typeId);
    if (type) out.set(type, [...(out.get(type) ?? []), row.id]);
  }
  return out;
}

/** Undoes a removal: of records, files, terms, fields or whole types. */
export async function undoRemoval(removalId: string): Promise<{ what: string }> {
  const what = await restore(removalId, async ({ ids }, transaction) => {
    await modelMoved(transaction);
    const model = await readModel(transaction);
    const own = (ids.records ?? []) as number[];
    for (let i = 0; i < own.length; i += 500)
      for (const [type, some] of await typesOf(own.slice(i, i + 500), model.types, transaction)) {
        const records = await readRows(some, transaction);
        const problems = await writeUnique(type, records, transaction);
        if (problems.length)
          throw new Refusal(
            409,
            'This cannot be undone any more.',
            problems.map(({ recordId: _, ...p }) => p),
          );
        await writeIndex(type, records, transaction);
        await writeMentions(type, records, transaction);
      }
    const fieldIds = new Set((ids.fields ?? []) as string[]);
    for (const type of model.types) {
      const back = type.fields.filter((field) => fieldIds.has(field.id));
      if (!back.length) continue;
      await orderFields(type, back, transaction);
      await reindex(type, transaction, new Set(back.map((field) => field.id)));
      const unique = back.filter((field) => field.unique);
      if (unique.length) await claimUnique({ ...type, fields: unique }, transaction);
    }
    await recount(transaction);
  });
  return { what };
}

/** Puts fields that came back where they stood, and the others around them. */
async function orderFields(type: ContentType, back: Field[], transaction: Transaction): Promise<void> {
  const places = await placesOfFields(type.id, transaction);
  const placeOf = new Map(places.map((row) => [row.id, row.position]));
  const order = type.fields.filter((field) => !back.includes(field)).map((field) => field.id);
  for (const { id } of [...back].sort((a, b) => (placeOf.get(a.id) ?? 0) - (placeOf.get(b.id) ?? 0)))
    order.splice(placeOf.get(id) ?? order.length, 0, id);
  await putInOrder('fields', order, transaction);
  await modelMoved(transaction);
}

/** Notes the values of unique fields again; refused where two records have come to share one. */
async function claimUnique(type: ContentType, transaction: Transaction): Promise<void> {
  const ids = await recordIdsOfType(type.id, {}, transaction);
  for (let i = 0; i < ids.length; i += 500) {
    const own = ids.slice(i, i + 500);
    const problems = await writeUnique(type, await readRows(own, transaction), transaction);
    if (problems.length)
      throw new Refusal(
        409,
        'This cannot be undone any more.',
        problems.slice(0, 20).map(({ recordId: _, ...p }) => p),
      );
  }
}
