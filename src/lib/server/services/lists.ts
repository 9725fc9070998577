import type { ContentRecord } from '../../core/content/record';
import { compileLoop, LoopSettingsSchema } from '../../core/loops/loop';
import { makeEnv } from '../../core/paths/env';
import { fold } from '../../core/text';
import { localDay } from '../../core/formats/write';
import { select } from '../database/connect';
import { batchPool, drawComplete } from '../queries/pool';
import { loadRecords } from '../queries/load';
import { Refusal } from '../refusal';
import { readModel } from './model';

/** Records that a loop's settings yield, evaluated by the database as the site does. */
export async function listRecords(
  settings: unknown,
  options: { drafts: boolean },
): Promise<{ records: ContentRecord[]; total: number }> {
  const parsed = LoopSettingsSchema.safeParse(settings);
  if (!parsed.success) throw new Refusal(422, 'The list cannot be read.');
  const model = await readModel();
  const loop = compileLoop('list', 'List', parsed.data, { loops: [] }, model);
  if (loop.problems.length) throw new Refusal(422, 'The list cannot be made.', loop.problems);
  const batch = batchPool(model, options);
  let out = { records: [] as ContentRecord[], total: 0 };
  await drawComplete(batch, () => {
    const { records, total } = batch.pool.list(
      loop,
      makeEnv({ model, pool: batch.pool, today: localDay(new Date(), model.site.timeZone) }),
    );
    out = { records, total };
    return '';
  });
  return out;
}

/** Up to `limit` records of a type by title, those whose title contains `search` where given, with how many there are. */
export async function searchRecords(
  typeId: string,
  { search = '', limit = 100, offset = 0 }: { search?: string; limit?: number; offset?: number },
): Promise<{ records: ContentRecord[]; total: number }> {
  const model = await readModel();
  const part = `%${fold(search).replace(/[!%_]/g, '!$&')}%`;
  const where = "r.type_id = ? AND i.field_id = '@title' AND i.text LIKE ? ESCAPE '!'";
  const [rows, [count]] = await Promise.all([
    select<{ id: number }>(
      `SELECT r.id FROM records r JOIN record_index i ON i.record_id = r.id WHERE ${where} ORDER BY i.sort, r.id LIMIT ? OFFSET ?`,
      [typeId, part, limit, offset],
    ),
    select<{ n: number }>(
      `SELECT COUNT(*) AS n FROM records r JOIN record_index i ON i.record_id = r.id WHERE ${where}`,
      [typeId, part],
    ),
  ]);
  const records = await loadRecords(
    model,
    rows.map((row) => row.id),
    { drafts: true },
  );
  const byId = new Map(records.map((record) => [record.id, record]));
  return { records: rows.map((row) => byId.get(row.id)).filter((r) => r !== undefined), total: Number(count?.n ?? 0) };
}

/** How many records the workbench takes of each type; lists over more are drawn from these and say so. */
const MOST = 2000;

/** Everything the workbench draws from: records of all types with their number, so that it knows where it has all. */
export async function workbenchRecords(): Promise<{ records: ContentRecord[]; partial: Record<string, number> }> {
  const model = await readModel();
  const partial: Record<string, number> = {};
  const ids: number[] = [];
  for (const type of model.types) {
    const rows = await select<{ id: number }>('SELECT id FROM records WHERE type_id = ? ORDER BY id LIMIT ?', [
      type.id,
      MOST + 1,
    ]);
    if (rows.length > MOST) {
      const [count] = await select<{ n: number }>('SELECT COUNT(*) AS n FROM records WHERE type_id = ?', [type.id]);
      partial[type.id] = Number(count?.n);
    }
    ids.push(...rows.slice(0, MOST).map((row) => row.id));
  }
  return { records: await loadRecords(model, ids, { drafts: true }), partial };
}

/** How many records each type has, published and not. */
export async function recordCounts(): Promise<Record<string, { published: number; drafts: number }>> {
  const rows = await select<{ typeId: string; status: string; n: number }>(
    'SELECT type_id AS typeId, status, COUNT(*) AS n FROM records GROUP BY type_id, status',
  );
  const counts: Record<string, { published: number; drafts: number }> = {};
  for (const row of rows) {
    const count = (counts[row.typeId] ??= { published: 0, drafts: 0 });
    count[row.status === 'published' ? 'published' : 'drafts'] += Number(row.n);
  }
  return counts;
}

/** Titles of records for the choice of related ones, up to 2,000 of each type. */
export async function recordTitles(): Promise<Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>[]> {
  const { types } = await readModel();
  const lists = await Promise.all(
    types.map((type) =>
      select<Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>>(
        'SELECT id, title, type_id AS typeId, status FROM records WHERE type_id = ? ORDER BY title, id LIMIT ?',
        [type.id, MOST],
      ),
    ),
  );
  return lists.flat();
}
