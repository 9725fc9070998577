import type { Row } from './pool';
import type { Trace } from './trace';
import type { Reader, ModelIndex } from '../model/model-index';
import type { ContentRecord, Media } from '../schema/record';
import type { ListRequest, LoopList, FacetCounts } from './pool';
import { addressOf } from '../addresses/addresses';
import { addressOfArchive, type ArchivePlace } from '../addresses/archives';

/** What drawing reads from, synchronously. A pool that lacks something may note it, so that it can be fetched in a batch. */
export interface Pool {
  record(id: number): ContentRecord | undefined;
  media(id: number): Media | undefined;
  list(request: ListRequest, env: Env): LoopList;
  /** What visitors may choose of a list, counted. */
  facets(request: ListRequest, env: Env): FacetCounts;
}

/** A pool in which nothing is, for what is said of a template before any record is at hand. */
export const EMPTY_POOL: Pool = {
  record: () => undefined,
  media: () => undefined,
  list: () => ({ items: [], total: 0, page: 1, pages: 1 }),
  facets: () => new Map(),
};

/** One turn of a loop: over records, or over rows and other values. */
export interface Iteration {
  record?: ContentRecord;
  row?: Row;
  /** From 1, through all pages. */
  position: number;
  /** How many the loop yields in all. */
  results: number;
  /** What its loop searches for. */
  search?: { words: readonly string[]; fieldIds?: readonly string[] };
  /** The group it stands in, where the loop makes some. */
  group?: { label: string; size: number };
}

/** Everything a path can start from while a page is drawn. Turns stand at the depth of their loop, outermost first. */
export interface Env {
  model: ModelIndex;
  pool: Pool;
  /** How kinds look up what a value's text needs; reads the pool. */
  reader: Reader;
  /** Today in the site's time zone, a full-date. */
  today: string;
  record?: ContentRecord;
  archive?: ArchivePlace;
  turns: (Iteration | undefined)[];
  /** Set where a page is looked into: told what became of each element. */
  trace?: Trace;
  /** Set where places of parts are looked for: told of each part that came to something, and the record it was drawn for. */
  placed?: (partId: string, record: ContentRecord | undefined) => void;
  /** While designing: elements that are shown whatever their rule says, and branches whatever those before them do. */
  held?: ReadonlySet<string>;
  /** Colours from fields that grounds were drawn in; see `coloursCss`. */
  colours: Set<string>;
  /** Ids of the records that loops have shown so far, for loops that leave out what stands above. */
  shown: Set<number>;
  /** How many pictures were drawn so far; the first is loaded at once. */
  pictures: number;
  /** Whether one of them was large, and is fetched before all others. */
  lead: boolean;
  /** The first large picture that was drawn, or the first of all: it may stand for the page where that is linked to. */
  leadPicture?: Media;
  /** In a frame: what the page itself drew. */
  content?: string;
  /** What the address asks of the page's lists, by key: pages, words, choices and orders. */
  asked?: Readonly<Record<string, readonly string[]>>;
  /** The path of the page's own address, for questions about its lists. */
  address?: string;
  /** Drawn to stand as a file: nothing in it may need a server that answers. */
  still?: boolean;
  /** How many more turns may be drawn, so that no page grows without end. */
  turnsLeft: number;
  /** Loops that had to stop for that. */
  stopped: Set<string>;
  /** Filled while drawing with what the archive's own loop came to. */
  paging?: { page: number; pages: number; total: number };
  /** Set while drawing where a page past the end of some loop was asked for: there is no such page. */
  pastEnd?: boolean;
}

/** Turns of all loops that one page draws at most. */
export const MOST_ITERATIONS = 20_000;

/** A page with more turns than these is stopped on the canvas, where it says so; the site goes on further. */
export const ITERATIONS_ON_CANVAS = 3000;

/** An environment for one page. */
export function makeEnv(
  given: Omit<Env, 'reader' | 'turns' | 'shown' | 'colours' | 'pictures' | 'lead' | 'turnsLeft' | 'stopped'> & {
    turnsLeft?: number;
  },
): Env {
  const { model, pool } = given;
  return {
    turnsLeft: MOST_ITERATIONS,
    ...given,
    stopped: new Set(),
    turns: [],
    shown: new Set(),
    colours: new Set(),
    pictures: 0,
    lead: given.content?.includes(' fetchpriority=') ?? false,
    reader: {
      model,
      record: pool.record,
      media: pool.media,
      addressOf: (record) => addressOf(record, model),
      termAddress: (termId) => addressOfArchive({ of: 'term', termId }, model),
    },
  };
}
