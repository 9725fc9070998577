import { answerFrom, type ColumnsResult, type Window } from '../../core/columns/answer';
import type { CompiledLoop } from '../../core/loops/compiled';
import type { ModelIndex } from '../../core/model/model-index';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import { recordIdsAfter, newestTitles, titlesOf, type Titled } from '../queries/records';
import { countsByStatus } from '../queries/counts';
import { z } from 'zod';
import type { ContentRecord } from '../../core/schema/record';
import { compileLoop } from '../../core/loops/loop';
import { LoopSettingsSchema } from '../../core/schema/loop';
import { problem, problemsOf } from '../../core/base/result';
import { RuleSchema, type Rule } from '../../core/schema/rule';
import { queryWords } from '../../core/base/words';
import { localDay } from '../../core/base/write';
import { listed } from '../queries/sql';
import { fromColumns } from '../queries/tables';
import { batchPool, drawComplete } from '../queries/pool';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../base/refusal';
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

const TableQuery = z.object({
  search: z.string().max(200).default(''),
  filter: RuleSchema.optional(),
  order: z.object({ step: z.string().max(80), down: z.boolean() }).default({ step: '@title', down: false }),
  limit: z.number().int().min(1).max(500).default(50),
  offset: z.number().int().min(0).max(10_000_000).default(0),
});

/** What a table is asked for; refused where that cannot be read. */
export function parseTableQuery(input: unknown): z.infer<typeof TableQuery> {
  const query = TableQuery.safeParse(input);
  if (!query.success) throw new Refusal(422, 'The list cannot be read.', problemsOf(query.error));
  return query.data;
}

export interface RecordTable {
  records: ContentRecord[];
  total: number;
}

/** Part of a type's records in one order, filtered by a rule that starts at `loop:table`, drafts included. */
export async function recordTable(typeId: string, input: unknown = {}): Promise<RecordTable> {
  const { search, filter, order, limit, offset } = parseTableQuery(input);
  const model = await readModel();
  if (!model.type(typeId)) throw notFound('content type with this id');
  const rules: Rule[] = filter ? [filter] : [];
  const settings = LoopSettingsSchema.parse({
    source: { from: 'query', typeIds: [typeId] },
    filter: { group: 'all', rules },
    order: [{ steps: [order.step], down: order.down }],
  });
  const loop = titled(compileLoop('table', 'Table', settings, { loops: [] }, model), search);
  if (loop.problems.length) throw new Refusal(422, 'The list cannot be made.', loop.problems);
  const answer = await partOf(loop, model, { offset, count: limit });
  const records = await loadRecords(model, answer.ids, { drafts: true });
  const byId = new Map(records.map((record) => [record.id, record]));
  return {
    records: answer.ids.map((id) => byId.get(id)).filter((r) => r !== undefined),
    total: answer.found,
  };
}

/** A list of those alone whose title has words that begin as those of a search do, without case and accents: as visitors search. */
function titled(loop: CompiledLoop, search: string): CompiledLoop {
  const words = queryWords(search);
  return words.length || search.trim() ? { ...loop, search: { words, fieldIds: ['@title'] } } : loop;
}

/** Part of a list, drafts included, with how many there are in all. Refused where a filter asks for more than values of the records themselves. */
async function partOf(loop: CompiledLoop, model: ModelIndex, window: Window): Promise<ColumnsResult> {
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  const answer = await fromColumns((tables) => answerFrom(tables, loop, env, { drafts: true, window }));
  if (!answer.whole)
    throw new Refusal(422, 'The list cannot be made.', [
      problem('filter', 'A table is filtered by values of the records themselves.', 'Choose another test.'),
    ]);
  return answer;
}

/** So many of the newest stand before the others where nothing is searched for. */
const RECENT = 5;

/** Titles of records of these types with the words of `search`, for choosing one; without it the newest come first. */
export async function findTitles(typeIds: string[], search = '', limit = 50): Promise<Titled[]> {
  const model = await readModel();
  const own = typeIds.filter((id) => model.type(id));
  if (!own.length) return [];
  const words = search.trim();
  const settings = LoopSettingsSchema.parse({
    source: { from: 'query', typeIds: own },
    order: [{ steps: ['@title'], down: false }],
  });
  const loop = titled(compileLoop('titles', 'Titles', settings, { loops: [] }, model), words);
  const { ids } = await partOf(loop, model, { offset: 0, count: limit });
  const titles = new Map((await titlesOf(ids)).map((one) => [one.id, one]));
  const found = ids.map((id) => titles.get(id)).filter((one) => one !== undefined);
  if (words) return found;
  const newest = await newestTitles(listed(own), RECENT);
  const first = new Set(newest.map(({ id }) => id));
  return [...newest, ...found.filter(({ id }) => !first.has(id))].slice(0, limit);
}

/** So many records of each type a screen that designs is opened with; it fetches more, so many at a time. */
const AT_FIRST = 1000;
const AT_A_TIME = 2000;

/** What the workbench draws from at first: records of all types, and how many there are of those of which it has some only. */
export async function workbenchRecords(): Promise<{ records: ContentRecord[]; partial: Record<string, number> }> {
  const [model, counts] = await Promise.all([readModel(), recordCounts()]);
  const partial: Record<string, number> = {};
  const ids: number[] = [];
  for (const type of model.types) {
    const found = await recordIdsAfter(type.id, 0, AT_FIRST + 1);
    const { published, drafts } = counts[type.id] ?? { published: 0, drafts: 0 };
    if (found.length > AT_FIRST) partial[type.id] = published + drafts;
    ids.push(...found.slice(0, AT_FIRST));
  }
  return { records: await loadRecords(model, ids, { drafts: true }), partial };
}

/** The records of a type whose numbers come after one, so many at a time. */
export async function moreRecords(typeId: string, after: number): Promise<ContentRecord[]> {
  const ids = await recordIdsAfter(typeId, after, AT_A_TIME);
  const records = await loadRecords(await readModel(), ids, { drafts: true });
  return records.sort((a, b) => a.id - b.id);
}

/** Of the records with these numbers those that visitors see. */
export const recordsSeen = async (ids: readonly number[]): Promise<ContentRecord[]> =>
  loadRecords(await readModel(), ids, { drafts: false });

/** How many records each type has, published and not. */
export async function recordCounts(): Promise<Record<string, { published: number; drafts: number }>> {
  const counts: Record<string, { published: number; drafts: number }> = {};
  for (const row of await countsByStatus()) {
    const count = (counts[row.typeId] ??= { published: 0, drafts: 0 });
    count[row.status === 'published' ? 'published' : 'drafts'] += row.n;
  }
  return counts;
}
