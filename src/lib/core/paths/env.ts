import type { Reader } from '../content/reader';
import type { ContentRecord, Media } from '../content/record';
import type { ListRequest, LoopList } from '../loops/loop';
import type { ContentType, ModelIndex } from '../model/model';

/** What drawing reads from, synchronously. A pool that lacks something may note it, so that it can be fetched in a batch. */
export interface Pool {
  record(id: number): ContentRecord | undefined;
  media(id: number): Media | undefined;
  list(request: ListRequest, env: Env): LoopList;
}

/** One turn of a loop. */
export interface Turn {
  record: ContentRecord;
  /** From 1, through all pages. */
  position: number;
  /** How many the loop yields in all. */
  results: number;
}

export interface ArchivePlace {
  type: ContentType;
  /** From 1. */
  page: number;
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
  turns: (Turn | undefined)[];
  /** Set while designing: told what became of each element. */
  trace?: (elementId: string, fate: Fate, env: Env) => void;
  /** Colours from fields that grounds were drawn in; see `coloursCss`. */
  colours: Set<string>;
  /** How many pictures were drawn so far; the first is loaded at once. */
  pictures: number;
  /** In a frame: what the page itself drew. */
  content?: string;
  /** Filled while drawing with what the loop that pages came to; the server reads it to refuse pages past the end. */
  paging?: { page: number; pages: number; total: number };
}

export type Fate = 'drawn' | 'rule' | 'empty';

/** An environment for one page. */
export function makeEnv(given: Omit<Env, 'reader' | 'turns' | 'colours' | 'pictures'>): Env {
  const { model, pool } = given;
  return {
    ...given,
    turns: [],
    colours: new Set(),
    pictures: 0,
    reader: { model, record: pool.record, media: pool.media },
  };
}
