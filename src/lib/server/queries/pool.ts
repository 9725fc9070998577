import type { ContentRecord, Media } from '../../core/schema/record';
import type { CompiledLoop } from '../../core/loops/compiled';
import { facetCountsFrom, listFrom, type Listing } from '../../core/columns/list';
import type { LoopList, FacetCounts } from '../../core/paths/pool';
import type { ModelIndex } from '../../core/model/model-index';
import type { Env, Pool } from '../../core/paths/env';
import { tablesView } from './tables';
import type { Tables } from '../../core/columns/reading';
import { readAside } from '../database/replicas';
import { currentCache, type ReadCache } from './read-cache';
import { loadRecords } from './load';
import { loadMedia } from './media';
import type { Reads } from './reads';

export interface BatchPool {
  pool: Pool;
  /** The same, which says of everything that it is asked for what that is made from. */
  readFor(reads: Reads): Pool;
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
    cache?: ReadCache;
  },
): BatchPool {
  const records = new Map<number, ContentRecord | undefined>();
  const media = new Map<number, Media | undefined>();
  const lacks = { records: new Set<number>(), media: new Set<number>() };
  const view = tablesView();
  /** Who asks just now. */
  let asker: Reads | undefined;
  const tables: Tables = {
    table(typeId) {
      asker?.type(typeId);
      return view.table(typeId);
    },
    column: view.column,
  };

  let missed = 0;
  /** Who draws together and is not done, and those of them who wait for what they lack. */
  let members = options.together ?? 0;
  let waiting: { go: () => void; fail: (error: unknown) => void }[] = [];
  let turns = Promise.resolve();
  const look =
    <T>(
      known: Map<number, T | undefined>,
      lacking: Set<number>,
      before?: { has(id: number): boolean; get(id: number): T | undefined },
    ) =>
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
  const record = look(records, lacks.records, options.cache?.records(model, options.relations));
  /** Asked for once for a page, however many times it is drawn. */
  let cacheHere = options.cache && Promise.resolve(options.cache);

  /** What columns answer, or undefined where something of it is not there yet. */
  const asked = <T>(ask: () => T | undefined): T | undefined => {
    const answer = view.ready ? ask() : undefined;
    if (answer === undefined) missed++;
    return answer;
  };

  const listing: Listing = { tables, drafts: options.drafts, record, asked };
  const list = (loop: CompiledLoop, env: Env): LoopList => listFrom(listing, loop, env);
  const facets = (loop: CompiledLoop, env: Env): FacetCounts => facetCountsFrom(listing, loop, env);

  const pool: Pool = { record, media: look(media, lacks.media), list, facets };
  const readFor = (reads: Reads): Pool => {
    const asking = <T>(ask: () => T): T => {
      const before = asker;
      asker = reads;
      try {
        return ask();
      } finally {
        asker = before;
      }
    };
    return {
      record(id) {
        reads.record(id);
        return record(id);
      },
      media: pool.media,
      list: (loop, env) => asking(() => list(loop as CompiledLoop, env)),
      facets: (loop, env) => asking(() => facets(loop as CompiledLoop, env)),
    };
  };

  return {
    pool,
    readFor,
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
    const cache = options.drafts ? undefined : await (cacheHere ??= currentCache());
    if (!view.ready || view.lacking) await view.fill();
    const loaded = cache?.records(model, options.relations);
    for (const id of lacks.records) if (loaded?.has(id)) records.set(id, loaded.get(id));
    const wantedRecords = [...lacks.records].filter((id) => !records.has(id));
    const wantedMedia = [...lacks.media];
    lacks.records.clear();
    lacks.media.clear();
    const read = () => Promise.all([loadRecords(model, wantedRecords, options), loadMedia(wantedMedia)]);
    const [foundRecords, foundMedia] = await (cache ? readAside(cache.version, read) : read());
    for (const id of wantedRecords) records.set(id, undefined);
    for (const id of wantedMedia) media.set(id, undefined);
    for (const one of foundRecords) records.set(one.id, one);
    for (const one of foundMedia) media.set(one.id, one);
    if (loaded) for (const id of wantedRecords) loaded.put(id, records.get(id));
  }
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
