import { recordIdsAfter, recordsOfType, newestTitles, titlesLike, type Titled } from '../queries/records';
import { countsByStatus } from '../queries/counts';
import { idsFound, numberFound } from '../queries/list';
import { z } from 'zod';
import type { ContentRecord } from '../../core/schema/record';
import { compileLoop } from '../../core/loops/loop';
import { LoopSettingsSchema } from '../../core/schema/loop';
import { makeEnv } from '../../core/paths/env';
import { problem, problemsOf } from '../../core/base/result';
import { RuleSchema, type Rule } from '../../core/schema/rule';
import { fold } from '../../core/base/text';
import { localDay } from '../../core/base/write';
import { listQuery } from '../queries/list';
import { countingUpTo, likePart, listed, selecting } from '../queries/sql';
import { batchPool, drawComplete } from '../queries/pool';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../refusal';
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
    const { items, total } = batch.pool.list(
      loop,
      makeEnv({ model, pool: batch.pool, today: localDay(new Date(), model.site.timeZone) }),
    );
    out = { records: loop.scope.fields ? [] : (items as ContentRecord[]), total };
    return '';
  });
  return out;
}

/** More matches than this are not counted one by one. */
const COUNTED = 500;

/** Fewer matches than this are found by the filter and then put in order; more are met along the order. */
const NARROW = 500;

const TableAsked = z.object({
  search: z.string().max(200).default(''),
  filter: RuleSchema.optional(),
  order: z.object({ step: z.string().max(80), down: z.boolean() }).default({ step: '@title', down: false }),
  limit: z.number().int().min(1).max(500).default(50),
  offset: z.number().int().min(0).max(10_000_000).default(0),
});

export interface RecordTable {
  records: ContentRecord[];
  total: number;
  /** There are more than `total` says. */
  more: boolean;
}

/** Part of a type's records in one order, filtered by a rule that starts at `loop:table`, drafts included. */
export async function recordTable(typeId: string, input: unknown = {}): Promise<RecordTable> {
  const asked = TableAsked.safeParse(input);
  if (!asked.success) throw new Refusal(422, 'The list cannot be read.', problemsOf(asked.error));
  const { search, filter, order, limit, offset } = asked.data;
  const model = await readModel();
  if (!model.type(typeId)) throw notFound('content type with this id');
  const rules: Rule[] = [
    ...(search.trim()
      ? [{ test: 'text.contains', path: { from: 'loop:table', steps: ['@title'] }, operand: search.trim() }]
      : []),
    ...(filter ? [filter] : []),
  ];
  const settings = LoopSettingsSchema.parse({
    source: { from: 'query', typeIds: [typeId] },
    filter: { group: 'all', rules },
    order: [{ steps: [order.step], down: order.down }],
  });
  const loop = compileLoop('table', 'Table', settings, { loops: [] }, model);
  if (loop.problems.length) throw new Refusal(422, 'The list cannot be made.', loop.problems);
  const pool = {
    record: () => undefined,
    media: () => undefined,
    list: () => ({ items: [], total: 0, page: 1, pages: 1 }),
    facets: () => new Map(),
  };
  const env = makeEnv({ model, pool, today: localDay(new Date(), model.site.timeZone) });
  // A table has no search of its own; what is typed is a test of the title.
  const reader = { drafts: true, found: () => [] };
  const query = listQuery(loop, env, reader, { offset, count: limit });
  if (!query.whole || !query.count)
    throw new Refusal(422, 'The list cannot be made.', [
      problem('filter', 'A table is filtered by values of the records themselves.', 'Choose another test.'),
    ]);
  const count = rules.length ? countingUpTo(query.count, COUNTED + 1) : selecting(query.count, 'n');
  const counted = await numberFound(count);
  const narrow = rules.length > 0 && counted < NARROW;
  const ids = selecting((narrow ? listQuery(loop, env, reader, { offset, count: limit, narrow }) : query).ids, 'id');
  const found = await idsFound(ids);
  const records = await loadRecords(model, found, { drafts: true });
  const byId = new Map(records.map((record) => [record.id, record]));
  const total = counted;
  return {
    records: found.map((id) => byId.get(id)).filter((r) => r !== undefined),
    total: rules.length ? Math.min(total, COUNTED) : total,
    more: rules.length > 0 && total > COUNTED,
  };
}

/** So many of the newest stand before the others where nothing is searched for. */
const RECENT = 5;

/** Titles of records of these types that contain `search`, for choosing one; without it the newest come first. */
export async function findTitles(typeIds: string[], search = '', limit = 50): Promise<Titled[]> {
  const part = `%${likePart(fold(search.trim()))}%`;
  const found = await titlesLike(listed(typeIds), part, limit);
  if (search.trim()) return found;
  const newest = await newestTitles(listed(typeIds), RECENT);
  const first = new Set(newest.map(({ id }) => id));
  return [...newest, ...found.filter(({ id }) => !first.has(id))].slice(0, limit);
}

/** How many records the workbench takes of each type; lists over more are drawn from these and say so. */
const MOST = 2000;

/** Everything the workbench draws from: records of all types with their number, so that it knows where it has all. */
export async function workbenchRecords(): Promise<{ records: ContentRecord[]; partial: Record<string, number> }> {
  const model = await readModel();
  const partial: Record<string, number> = {};
  const ids: number[] = [];
  for (const type of model.types) {
    const found = await recordIdsAfter(type.id, 0, MOST + 1);
    if (found.length > MOST) partial[type.id] = await recordsOfType(type.id);
    ids.push(...found.slice(0, MOST));
  }
  return { records: await loadRecords(model, ids, { drafts: true }), partial };
}

/** The records of a type whose numbers come after one, so many at a time as the workbench takes at first. */
export async function moreRecords(typeId: string, after: number): Promise<ContentRecord[]> {
  const ids = await recordIdsAfter(typeId, after, MOST);
  const records = await loadRecords(await readModel(), ids, { drafts: true });
  return records.sort((a, b) => a.id - b.id);
}

/** How many records each type has, published and not. */
export async function recordCounts(): Promise<Record<string, { published: number; drafts: number }>> {
  const counts: Record<string, { published: number; drafts: number }> = {};
  for (const row of await countsByStatus()) {
    const count = (counts[row.typeId] ??= { published: 0, drafts: 0 });
    count[row.status === 'published' ? 'published' : 'drafts'] += row.n;
  }
  return counts;
}
