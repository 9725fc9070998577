import { LRUCache } from 'lru-cache';
import { follow, followAnew, followed, isFollowed, type Went } from './following';
import { clearColumns } from './tables';
import type { ModelIndex } from '../../core/model/model-index';
import type { ContentRecord } from '../../core/schema/record';
import { perServer } from '../base/server';

/**
 * What the database has said, as far as nothing of it was written since: what answers an address, and records as visitors
 * see them. A write takes the records that it touched, and all that stands under a name; what was asked for before it is not
 * put in after it.
 */
const MOST = 1000;
const MOST_RECORDS = 5000;

/** Records by their number; undefined where visitors see none. */
interface CachedRecords {
  has(id: number): boolean;
  get(id: number): ContentRecord | undefined;
  put(id: number, record: ContentRecord | undefined): void;
}

export interface ReadCache {
  /** What state the content was in. */
  readonly version: string;
  get(key: string): unknown;
  /** What lasts holds until something else than records is written. */
  put(key: string, answer: NonNullable<unknown>, lasts?: 'lasts'): void;
  /** Records read with these relations under this model. */
  records(model: ModelIndex, relations: ReadonlySet<string> | undefined): CachedRecords;
}

const EVERY: ReadonlySet<string> = new Set<string>([]);
type ById = Map<number, ContentRecord | undefined>;

interface Cached {
  results: LRUCache<string, NonNullable<unknown>>;
  lasting: Map<string, unknown>;
  loaded: Map<ModelIndex, Map<ReadonlySet<string>, ById>>;
}

const cached = perServer((): Cached => {
  const own: Cached = { results: new LRUCache({ max: MOST }), lasting: new Map(), loaded: new Map() };
  follow((went: Went) => {
    if (went === 'everything') return clear(own);
    own.results.clear();
    for (const byRelations of own.loaded.values())
      for (const records of byRelations.values()) for (const { id } of went) records.delete(id);
  });
  return own;
});

function clear(own: Cached): void {
  own.results.clear();
  [own.lasting, own.loaded] = [new Map(), new Map()];
}

/** Gone when the model is another one. */
function recordsOf({ loaded }: Cached, model: ModelIndex, relations: ReadonlySet<string>): ById {
  let byRelations = loaded.get(model);
  if (!byRelations) loaded.set(model, (byRelations = new Map<ReadonlySet<string>, ById>()));
  let records = byRelations.get(relations);
  if (!records) byRelations.set(relations, (records = new Map<number, ContentRecord | undefined>()));
  for (const oldest of records.keys()) {
    if (records.size <= MOST_RECORDS) break;
    records.delete(oldest);
  }
  return records;
}

/** What is kept as of now. Answers put into it later than the next change are let go. */
export async function currentCache(): Promise<ReadCache> {
  const own = cached();
  const version = await followed();
  /** Whether nothing was written since, as far as that is known here. */
  const holds = () => isFollowed(version);
  return {
    version,
    get(key) {
      return own.lasting.get(key) ?? own.results.get(key);
    },
    put(key, answer, lasts) {
      if (!holds()) return;
      if (lasts) {
        own.lasting.set(key, answer);
        return;
      }
      own.results.set(key, answer);
    },
    records(model, relations = EVERY) {
      const records = recordsOf(own, model, relations);
      return {
        has: (id) => records.has(id),
        get: (id) => records.get(id),
        put: (id, record) => void (holds() && records.set(id, record)),
      };
    },
  };
}

/** Forgets what is kept here. */
export function clearReadCache(): void {
  clear(cached());
  followAnew();
}

/** Forgets everything that was read of content: what is kept here, and columns that lists are answered from. */
export function clearResults(): void {
  clearReadCache();
  clearColumns();
}
