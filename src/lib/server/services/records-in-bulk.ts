import { counted } from '../../core/base/counted';
import { lockHeads, nextVersions, readRows, setAuthor, setStatus } from '../queries/records';
import { fileNoMoreUnder, fileUnder } from '../queries/record-parts';
import { countRecords } from '../queries/counts';
import { typesOf } from './record-removal';
import { lacking, wrongTerms } from './record-checks';
import { z } from 'zod';
import { type Problem } from '../../core/base/result';
import { inTransaction } from '../database/connect';
import { Refusal } from '../base/refusal';
import { readModel } from './model';
import { writeIndex } from './record-parts';
import { beginRemoval, sweep } from './removal';

export const RecordsChanged = z.strictObject({
  ids: z.array(z.number().int().positive()).min(1, { error: 'Nothing is chosen.' }).max(5000),
  status: z.enum(['draft', 'published']).optional(),
  addTerms: z.array(z.string()).max(50).default([]),
  takeTerms: z.array(z.string()).max(50).default([]),
  authorId: z.number().int().positive().nullable().optional(),
});

/**
 * Changes many records alike: status, terms, author. Those that cannot be published are left as they are and told. Their
 * former state is kept, so that the change can be undone.
 */
export async function changeRecords(
  input: z.output<typeof RecordsChanged>,
): Promise<{ removal: string; changed: number; left: { id: number; title: string; problems: Problem[] }[] }> {
  const { ids, status, addTerms, takeTerms, authorId } = input;
  const model = await readModel();
  return inTransaction(
    async (transaction) => {
      const locked = await lockHeads(ids, transaction);
      const removal = await beginRemoval(`change of ${counted(locked.length, 'record')}`, transaction);
      const left: { id: number; title: string; problems: Problem[] }[] = [];
      let changed = 0;
      for (const [type, own] of await typesOf(
        locked.map((row) => row.id),
        model.types,
        transaction,
      )) {
        const wrong = wrongTerms(model, type, addTerms);
        if (wrong.length) throw new Refusal(422, 'These records cannot be filed so.', wrong);
        const records = await readRows(own, transaction);
        let able = records;
        if (status === 'published') {
          const problems = await lacking(type, records, transaction);
          const bad = new Set(problems.map((p) => p.recordId));
          for (const record of records)
            if (bad.has(record.id))
              left.push({
                id: record.id,
                title: record.title,
                problems: problems.filter((p) => p.recordId === record.id).map(({ recordId: _, ...p }) => p),
              });
          able = records.filter((record) => !bad.has(record.id));
        }
        const ableIds = able.map((record) => record.id);
        if (!ableIds.length) continue;
        changed += ableIds.length;
        await sweep(
          removal,
          [
            { table: 'record_terms', column: 'record_id', values: ableIds, stay: true },
            { table: 'records', column: 'id', values: ableIds, stay: true },
          ],
          transaction,
        );
        const now = new Date();
        await nextVersions(ableIds, now, transaction);
        if (status) {
          await setStatus(ableIds, status, now, transaction);
          for (const record of able)
            if (record.status !== status) {
              await countRecords(type.id, record.status, -1, transaction);
              await countRecords(type.id, status, 1, transaction);
            }
        }
        if (authorId !== undefined) await setAuthor(ableIds, authorId, transaction);
        if (takeTerms.length) await fileNoMoreUnder(ableIds, takeTerms, transaction);
        if (addTerms.length) await fileUnder(ableIds, addTerms, transaction);
        await writeIndex(type, await readRows(own, transaction), transaction);
      }
      return { removal, changed, left };
    },
    { writes: 'records' },
  );
}
