import type { ContentRecord, Media } from '../../core/schema/record';
import { evaluateLoop, countFacets, itemsAt, pageAsked } from '../../core/loops/evaluate';
import { pageOf } from '../../core/loops/loop';
import type { CompiledLoop, Facet } from '../../core/loops/compiled';
import type { LoopList, FacetCount, FacetCounts } from '../../core/paths/pool';
import type { ModelIndex } from '../../core/model/model-index';
import type { Env, Pool } from '../../core/paths/env';
import { select } from '../database/connect';
import { facetQuery, type FacetRow } from './facets';
import { listQuery, type ListQuery } from './list';
import { union } from './sql';
import { MOST_FOUND, searchQuery, type Search } from './words';
import { keptNow, type Kept } from './kept';
import { loadRecords } from './load';
import { loadMedia } from './media';

/** Longer lists than this are asked for anew each time. */
const LONGEST_KEPT = 5000;

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
  const counted = new Map<string, FacetRow[]>();
  const searched = new Map<string, number[]>();
  const lacks = {
    records: new Set<number>(),
    media: new Set<number>(),
    lists: new Map<string, ListQuery>(),
    facets: new Map<string, NonNullable<ReturnType<typeof facetQuery>>>(),
    searches: new Map<string, Search>(),
  };

  const look =
    <T>(known: Map<number, T | undefined>, lacking: Set<number>) =>
    (id: number): T | undefined => {
      if (!known.has(id)) lacking.add(id);
      return known.get(id);
    };
  const record = look(records, lacks.records);
  /** What a search found comes first; lists that depend on it are asked for once it is there. */
  const found = (search: Search): number[] | 'many' => {
    const key = `search ${JSON.stringify(search)}`;
    const ids = searched.get(key);
    if (!ids) lacks.searches.set(key, search);
    return !ids ? [] : ids.length > MOST_FOUND ? 'many' : ids;
  };
  const reader = { drafts: options.drafts, found };
  /** Asked for once for a page, however many times it is drawn. */
  let keptHere: Promise<Kept> | undefined;

  const list = (loop: CompiledLoop, env: Env): LoopList => {
    const items = itemsAt(loop, env);
    if (items) return evaluateLoop(loop, env, items);
    const query = listQuery(loop, env, reader);
    if (lacks.searches.size) return EMPTY;
    const key = `${loop.id}\n${query.ids.what} ${query.ids.sql}\n${JSON.stringify(query.ids.values)}`;
    const answer = lists.get(key);
    if (!answer) {
      lacks.lists.set(key, query);
      return EMPTY;
    }
    const found = answer.ids.map(record).filter((r) => r !== undefined);
    if (!answer.whole) return evaluateLoop(loop, env, found);
    // Uncounted lists have all that they come to.
    const all = query.count ? answer.found : loop.skip + found.length;
    const { total, page, pages } = pageOf(loop, all, pageAsked(loop, env));
    return { items: found, total, page, pages };
  };

  const facets = (loop: CompiledLoop, env: Env): FacetCounts => {
    const items = itemsAt(loop, env);
    if (items) return countFacets(loop, env, items);
    const query = facetQuery(loop, env, reader);
    if (lacks.searches.size) return new Map();
    // What the database cannot ask is counted in memory, over all there is before visitors choose.
    if (!query) {
      if (!loop.visitors?.facets.length) return new Map();
      const bare = { ...loop, skip: 0, limit: undefined, perPage: undefined, order: [], visitors: undefined };
      return countFacets(loop, env, list(bare, env).items);
    }
    const key = `${query.sql}\n${JSON.stringify(query.values)}`;
    const rows = counted.get(key);
    if (!rows) lacks.facets.set(key, query);
    const counts = new Map<string, FacetCount & { options: Map<string, number> }>();
    for (const [at, facet] of (loop.visitors?.facets ?? []).entries()) {
      const own = (rows ?? []).filter((row) => Number(row.facet) === at);
      const optional = own.filter((row) => row.option !== '' && Number(row.n));
      const [ends] = facet.range ? own : [];
      counts.set(facet.key, {
        options: new Map(optional.map((row) => [optionOf(facet, row.option, model), Number(row.n)])),
        ...(ends?.low === null || ends?.high === null || !ends
          ? {}
          : { low: Number(ends.low), high: Number(ends.high) }),
      });
    }
    return counts;
  };

  /** What of this is kept goes where it belongs; what is not is given back, to be asked for. */
  const takeKept = <T, A>(lacking: Map<string, T>, kept: Kept | undefined, into: Map<string, A>): [string, T][] => {
    const left = [...lacking].filter(([key]) => {
      const answer = kept?.get(key) as A | undefined;
      if (answer !== undefined) into.set(key, answer);
      return answer === undefined;
    });
    lacking.clear();
    return left;
  };

  const fetchSearches = async (kept?: Kept): Promise<void> => {
    for (const [key, search] of takeKept(lacks.searches, kept, searched)) {
      const { sql, values } = searchQuery(search);
      const ids = (await select<{ id: number }>(sql, values)).map((row) => row.id);
      searched.set(key, ids);
      kept?.put(key, ids);
    }
  };

  const fetchFacets = async (kept?: Kept): Promise<void> => {
    await Promise.all(
      takeKept(lacks.facets, kept, counted).map(async ([key, { sql, values }]) => {
        const rows = await select<FacetRow>(sql, values);
        counted.set(key, rows);
        kept?.put(key, rows);
      }),
    );
  };

  const fetchLists = async (kept?: Kept): Promise<void> => {
    const wanted = takeKept(lacks.lists, kept, lists);
    if (wanted.length) await askLists(wanted, kept);
    for (const { ids } of lists.values()) for (const id of ids) if (!records.has(id)) lacks.records.add(id);
  };

  const askLists = async (wanted: [string, ListQuery][], kept?: Kept): Promise<void> => {
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
      const answer: Answer = { ids: own, found: found.get(at) ?? own.length, whole: query.whole };
      lists.set(key, answer);
      if (own.length <= LONGEST_KEPT) kept?.put(key, answer);
    }
  };

  return {
    pool: { record, media: look(media, lacks.media), list, facets },
    lacking: () =>
      lacks.records.size + lacks.media.size + lacks.lists.size + lacks.facets.size + lacks.searches.size > 0,
    async fetch() {
      const kept = options.drafts ? undefined : await (keptHere ??= keptNow());
      await fetchSearches(kept);
      await Promise.all([fetchLists(kept), fetchFacets(kept)]);
      const loaded = kept?.records(model, options.relations);
      for (const id of lacks.records) if (loaded?.has(id)) records.set(id, loaded.get(id));
      const wantedRecords = [...lacks.records].filter((id) => !records.has(id));
      const wantedMedia = [...lacks.media];
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
      if (loaded) for (const id of wantedRecords) loaded.set(id, records.get(id));
    },
  };
}

/** The option that a count stands under; content types are counted by their id. */
function optionOf({ path: { type }, step }: Facet, counted: string, model: ModelIndex): string {
  const { facet } = type.kind.family;
  return facet?.by === 'answers' && facet.counted === 'number' && step !== '@type'
    ? facet.answerAt(Number(counted), model.beside?.written.get(step) ?? type.settings)
    : counted;
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
