import type { ContentRecord, Media } from '../../core/content/record';
import { arrange, itemsAt, pageAsked } from '../../core/loops/evaluate';
import { pageOf, type CompiledLoop, type LoopList } from '../../core/loops/loop';
import type { ModelIndex } from '../../core/model/model';
import type { Env, Pool } from '../../core/paths/env';
import { select } from '../database/connect';
import { listQuery, type ListQuery } from './list';
import { loadMedia, loadRecords } from './load';

const EMPTY: LoopList = { items: [], total: 0, page: 1, pages: 1 };

interface Answer {
  ids: number[];
  /** How many candidates the database found in all. */
  found: number;
  whole: boolean;
}

export interface BatchPool {
  pool: Pool;
  /** Whether the last drawing asked for something that is not here yet. */
  lacking(): boolean;
  /** Fetches all that was lacking, in a fixed number of statements. */
  fetch(): Promise<void>;
}

/**
 * A pool that notes what it lacks while a page is drawn, and fetches all of it at once. Drawing again and again until
 * nothing is lacking goes as deep as the template's loops and relation steps, never as wide as its items.
 */
export function batchPool(model: ModelIndex, options: { drafts: boolean; relations?: ReadonlySet<string> }): BatchPool {
  const records = new Map<number, ContentRecord | undefined>();
  const media = new Map<number, Media | undefined>();
  const lists = new Map<string, Answer>();
  const lacks = { records: new Set<number>(), media: new Set<number>(), lists: new Map<string, ListQuery>() };

  const look =
    <T>(known: Map<number, T | undefined>, lacking: Set<number>) =>
    (id: number): T | undefined => {
      if (!known.has(id)) lacking.add(id);
      return known.get(id);
    };
  const record = look(records, lacks.records);

  const list = (loop: CompiledLoop, env: Env): LoopList => {
    const items = itemsAt(loop, env);
    if (items) return arrange(loop, env, items);
    const query = listQuery(loop, env, options.drafts);
    const key = `${loop.id}\n${query.ids.sql}\n${JSON.stringify(query.ids.values)}`;
    const answer = lists.get(key);
    if (!answer) {
      lacks.lists.set(key, query);
      return EMPTY;
    }
    const found = answer.ids.map(record).filter((r) => r !== undefined);
    if (!answer.whole) return arrange(loop, env, found);
    const { total, page, pages } = pageOf(loop, answer.found, pageAsked(loop, env));
    return { items: found, total, page, pages };
  };

  const fetchLists = async (): Promise<void> => {
    const wanted = [...lacks.lists];
    if (!wanted.length) return;
    const ids = union(
      wanted.map(([, query]) => query.ids),
      'id',
    );
    const counted = wanted.flatMap(([, query], at) => (query.count ? [{ at, count: query.count }] : []));
    const counts = union(
      counted.map(({ count }) => count),
      'n',
    );
    const [idRows, countRows] = await Promise.all([
      select<{ tag: number; id: number }>(ids.sql, ids.values),
      counted.length ? select<{ tag: number; n: number }>(counts.sql, counts.values) : [],
    ]);
    const found = new Map(countRows.map((row) => [counted[row.tag]!.at, Number(row.n)]));
    const idsOf: number[][] = wanted.map(() => []);
    for (const row of idRows) idsOf[row.tag]?.push(row.id);
    for (const [at, [key, query]] of wanted.entries()) {
      const own = idsOf[at] as number[];
      lists.set(key, { ids: own, found: found.get(at) ?? own.length, whole: query.whole });
      for (const id of own) if (!records.has(id)) lacks.records.add(id);
    }
    lacks.lists.clear();
  };

  return {
    pool: { record, media: look(media, lacks.media), list },
    lacking: () => lacks.records.size + lacks.media.size + lacks.lists.size > 0,
    async fetch() {
      await fetchLists();
      const [wantedRecords, wantedMedia] = [[...lacks.records], [...lacks.media]];
      lacks.records.clear();
      lacks.media.clear();
      const [foundRecords, foundMedia] = await Promise.all([
        loadRecords(model, wantedRecords, options),
        loadMedia(wantedMedia),
      ]);
      for (const id of wantedRecords) records.set(id, undefined);
      for (const id of wantedMedia) media.set(id, undefined);
      for (const one of foundRecords) records.set(one.id, one);
      for (const one of foundMedia) media.set(one.id, one);
    },
  };
}

/** Several selects as one statement, each row with the number of its select. */
function union(parts: { sql: string; values: unknown[] }[], column: string): { sql: string; values: unknown[] } {
  return {
    sql:
      parts.map((part, tag) => `(${part.sql.replace(/^SELECT /, `SELECT ${tag} AS tag, `)})`).join(' UNION ALL ') ||
      `SELECT 0 AS tag, 0 AS ${column}`,
    values: parts.flatMap((part) => part.values),
  };
}

/** Draws until the pool lacks nothing. `draw` starts from a fresh environment each time. */
export async function drawComplete(batch: BatchPool, draw: () => string): Promise<string> {
  for (let pass = 0; pass < 40; pass++) {
    const html = draw();
    if (!batch.lacking()) return html;
    await batch.fetch();
  }
  throw new Error('A page asked for more and more records; its template follows relations without end.');
}
