import type { CompiledLoop } from '../loops/compiled';
import { countFacets, evaluateLoop, itemsAt, requestedPage } from '../loops/evaluate';
import { pageOf } from '../loops/loop';
import type { Env } from '../paths/env';
import type { FacetCounts, LoopList } from '../paths/pool';
import type { ContentRecord } from '../schema/record';
import { answerFrom } from './answer';
import { facetsFrom } from './facets';
import type { Tables } from './reading';

/** What lists are answered from: columns, and records by their numbers where they are drawn or columns do not tell. */
export interface Listing {
  tables: Tables;
  /** The reader sees drafts. */
  drafts: boolean;
  record(id: number): ContentRecord | undefined;
  /** What columns answer, or undefined where something of it is not there yet. */
  asked<T>(ask: () => T | undefined): T | undefined;
}

const EMPTY: LoopList = { items: [], total: 0, page: 1, pages: 1 };

/** One page of a loop. */
export function listFrom(listing: Listing, loop: CompiledLoop, env: Env): LoopList {
  const items = itemsAt(loop, env);
  if (items) return evaluateLoop(loop, env, items);
  const answer = listing.asked(() => answerFrom(listing.tables, loop, env, listing));
  if (!answer) return EMPTY;
  const found = answer.ids.map((id) => listing.record(id)).filter((r) => r !== undefined);
  if (!answer.whole) return evaluateLoop(loop, env, found);
  const { total, page, pages } = pageOf(loop, answer.found, requestedPage(loop, env));
  return { items: found, total, page, pages };
}

/** What visitors may choose of a loop, counted. */
export function facetCountsFrom(listing: Listing, loop: CompiledLoop, env: Env): FacetCounts {
  const items = itemsAt(loop, env);
  if (items) return countFacets(loop, env, items);
  const counts = listing.asked(() => facetsFrom(listing.tables, loop, env, listing));
  if (counts !== 'left') return counts ?? new Map();
  // What columns cannot tell is counted in memory, over all there is before visitors choose.
  const bare = { ...loop, skip: 0, limit: undefined, perPage: undefined, order: [], visitors: undefined };
  return countFacets(loop, env, listFrom(listing, bare, env).items);
}
