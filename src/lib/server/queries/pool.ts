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
import { sharing } from './shared';
import { union } from './sql';
import { MOST_FOUND, searchQuery, type Search } from './words';
import { keptNow, type Kept } from './kept';
import { loadRecords } from './load';
import { loadMedia } from './media';

/** Longer lists than this are asked for anew each time. */
const LONGEST_KEPT = 5000;

/** So many lists are asked for in one statement. */
const MOST_ASKED = 250;

const EMPTY: LoopList = { items: [], total: 0, page: 1, pages: 1 };

interface Answer {
  ids: number[];
  /** How many candidates the database found in all. */
  found: number;
  whole: boolean;
}

export interface BatchPool {
  pool: Pool;
  /** How often something was asked for that is not here yet; what was drawn while it grew lacks something. */
  missed(): number;
  /** Fetches all that is lacking, in a fixed number of statements; together, once all who draw from it wait for that. */
  fetch(): Promise<void>;
  /** Where several draw together: resolves when it is somebody's turn, with room for others between. */
  turn?(): Promise<void>;
  /** One of those who draw together is done. */
  leave(): void;
}

/**
 * A pool that notes what it lacks while a page is drawn, and fetches all of it at once. Drawing again and again until
 * nothing is lacking goes as deep as the template's loops and relation steps, never as wide as its items.
 */
export function batchPool(
  model: ModelIndex,
  options: {
    drafts: boolean;
    relations?: ReadonlySet<string>;
    /** So many pages are drawn from it at the same time, and what they lack is fetched for all of them at once. */
    together?: number;
    /** What the database has said already; what is in it is not lacking. Nothing of drafts is. */
    kept?: Kept;
  },
): BatchPool {
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

  let missed = 0;
  /** Who draws together and is not done, and those of them who wait for what they lack. */
  let members = options.together ?? 0;
  let waiting: { go: () => void; fail: (error: unknown) => void }[] = [];
  let turns = Promise.resolve();
  const look =
    <T>(known: Map<number, T | undefined>, lacking: Set<number>, before?: Map<number, T | undefined>) =>
    (id: number): T | undefined => {
      if (known.has(id)) return known.get(id);
      if (before?.has(id)) {
        const one = before.get(id);
        known.set(id, one);
        return one;
      }
      missed++;
      lacking.add(id);
      return undefined;
    };
  const record = look(records, lacks.records, options.kept?.records(model, options.relations));
  /** An answer of this page, or of one before it. */
  const answered = <A>(own: Map<string, A>, key: string): A | undefined => {
    const known = own.get(key);
    if (known !== undefined) return known;
    const before = options.kept?.get(key) as A | undefined;
    if (before !== undefined) own.set(key, before);
    return before;
  };
  /** What a search found comes first; lists that depend on it are asked for once it is there. */
  const found = (search: Search): number[] | 'many' => {
    const key = `search ${JSON.stringify(search)}`;
    const ids = answered(searched, key);
    if (!ids) {
      missed++;
      lacks.searches.set(key, search);
    }
    return !ids ? [] : ids.length > MOST_FOUND ? 'many' : ids;
  };
  const reader = { drafts: options.drafts, found };
  /** Asked for once for a page, however many times it is drawn. */
  let keptHere = options.kept && Promise.resolve(options.kept);

  const list = (loop: CompiledLoop, env: Env): LoopList => {
    const items = itemsAt(loop, env);
    if (items) return evaluateLoop(loop, env, items);
    const query = listQuery(loop, env, reader);
    // What is searched for comes first; all lists are asked for together then.
    if (lacks.searches.size) {
      missed++;
      return EMPTY;
    }
    const key = `${loop.id}\n${query.ids.what} ${query.ids.sql}\n${JSON.stringify(query.ids.values)}`;
    const answer = answered(lists, key);
    if (!answer) {
      missed++;
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
    if (lacks.searches.size) {
      missed++;
      return new Map();
    }
    // What the database cannot ask is counted in memory, over all there is before visitors choose.
    if (!query) {
      if (!loop.visitors?.facets.length) return new Map();
      const bare = { ...loop, skip: 0, limit: undefined, perPage: undefined, order: [], visitors: undefined };
      return countFacets(loop, env, list(bare, env).items);
    }
    const key = `${query.sql}\n${JSON.stringify(query.values)}`;
    const rows = answered(counted, key);
    if (!rows) {
      missed++;
      lacks.facets.set(key, query);
    }
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
    for (let at = 0; at < wanted.length; at += MOST_ASKED) await askLists(wanted.slice(at, at + MOST_ASKED), kept);
    for (const { ids } of lists.values()) for (const id of ids) if (!records.has(id)) lacks.records.add(id);
  };

  const askLists = async (wanted: [string, ListQuery][], kept?: Kept): Promise<void> => {
    const ids = sharing(wanted.map(([, query]) => query.ids));
    const counted = wanted.flatMap(([, query], at) => (query.count ? [{ at, count: query.count }] : []));
    const counts = sharing(counted.map(({ count }) => count));
    const [idStatement, countStatement] = [union(ids.asked, 'id'), union(counts.asked, 'n')];
    const [idRows, countRows] = await Promise.all([
      select<{ tag: number; id: number }>(idStatement.sql, idStatement.values),
      counted.length ? select<{ tag: number; n: number }>(countStatement.sql, countStatement.values) : [],
    ]);
    const countOf = new Map(countRows.map((row) => [row.tag, Number(row.n)]));
    const found = new Map(counts.own.map((own, i) => [counted[i]!.at, countOf.get(own.at)]));
    const rowsOf: number[][] = ids.asked.map(() => []);
    for (const row of idRows) rowsOf[row.tag]?.push(row.id);
    const idsOf = ids.own.map(({ at, skip, count }) => (rowsOf[at] as number[]).slice(skip, skip + count));
    for (const [at, [key, query]] of wanted.entries()) {
      const own = idsOf[at] as number[];
      const answer: Answer = { ids: own, found: found.get(at) ?? own.length, whole: query.whole };
      lists.set(key, answer);
      if (own.length <= LONGEST_KEPT) kept?.put(key, answer);
    }
  };

  return {
    pool: { record, media: look(media, lacks.media), list, facets },
    missed: () => missed,
    fetch: () =>
      options.together
        ? new Promise((go, fail) => {
            waiting.push({ go, fail });
            fetchWhenAllWait();
          })
        : fetchAll(),
    ...(options.together && {
      turn: () => (turns = turns.then(() => new Promise((go) => setImmediate(go)))),
    }),
    leave() {
      members--;
      fetchWhenAllWait();
    },
  };

  function fetchWhenAllWait(): void {
    if (!waiting.length || waiting.length < members) return;
    const all = waiting;
    waiting = [];
    fetchAll().then(
      () => all.forEach(({ go }) => go()),
      (error: unknown) => all.forEach(({ fail }) => fail(error)),
    );
  }

  async function fetchAll(): Promise<void> {
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
  }
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
    await batch.turn?.();
    const before = batch.missed();
    const html = draw();
    if (batch.missed() === before) return html;
    await batch.fetch();
  }
  throw new Error('A page asked for more and more records; its template follows relations without end.');
}
