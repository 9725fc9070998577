import { typesOf } from './record-removal';
import { lacking, wrongTerms } from './record-checks';
import { z } from 'zod';
import { problemsOf, type Problem } from '../../core/base/result';
import { inTransaction, run, select } from '../database/connect';
import { Refusal } from '../refusal';
import { readModel } from './model';
import { countRecords, keptRecords, writeIndex } from './record-parts';
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
  input: unknown,
): Promise<{ removal: string; changed: number; left: { id: number; title: string; problems: Problem[] }[] }> {
  const parsed = RecordsChanged.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'These records cannot be changed so.', problemsOf(parsed.error));
  const { ids, status, addTerms, takeTerms, authorId } = parsed.data;
  const model = await readModel();
  return inTransaction(async (transaction) => {
    const locked = await select<{ id: number }>(
      'SELECT id FROM records WHERE id IN (?) ORDER BY id FOR UPDATE',
      [ids],
      transaction,
    );
    const removal = await beginRemoval(`change of ${locked.length} records`, transaction);
    const left: { id: number; title: string; problems: Problem[] }[] = [];
    let changed = 0;
    for (const [type, own] of await typesOf(
      locked.map((row) => row.id),
      model,
      transaction,
    )) {
      const wrong = wrongTerms(model, type, addTerms);
      if (wrong.length) throw new Refusal(422, 'These records cannot be filed so.', wrong);
      const records = await keptRecords(own, transaction);
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
          { table: 'record_terms', where: 'record_id IN (?)', values: [ableIds], stay: true },
          { table: 'records', where: 'id IN (?)', values: [ableIds], stay: true },
        ],
        transaction,
      );
      const now = new Date();
      await run('UPDATE records SET changed = ?, version = version + 1 WHERE id IN (?)', [now, ableIds], transaction);
      if (status) {
        await run(
          "UPDATE records SET status = ?, published = IF(? = 'published' AND (published IS NULL OR published > ?), ?, published) WHERE id IN (?)",
          [status, status, now, now, ableIds],
          transaction,
        );
        for (const record of able)
          if (record.status !== status) {
            await countRecords(type.id, record.status, -1, transaction);
            await countRecords(type.id, status, 1, transaction);
          }
      }
      if (authorId !== undefined)
        await run('UPDATE records SET author_id = ? WHERE id IN (?)', [authorId, ableIds], transaction);
      if (takeTerms.length)
        await run(
          'DELETE FROM record_terms WHERE record_id IN (?) AND term_id IN (?)',
          [ableIds, takeTerms],
          transaction,
        );
      if (addTerms.length)
        await run(
          'INSERT IGNORE INTO record_terms (record_id, term_id, position) VALUES ?',
          [ableIds.flatMap((id) => addTerms.map((term, i) => [id, term, 1000 + i]))],
          transaction,
        );
      await writeIndex(type, await keptRecords(own, transaction), transaction);
    }
    return { removal, changed, left };
  });
}
