import { freshVersion } from '../database/version';
import { forgetColumns } from './tables';
import type { ModelIndex } from '../../core/model/model-index';
import type { ContentRecord } from '../../core/schema/record';

/**
 * What the database has said, which holds until any content is written: what answers an address, and records as visitors
 * see them. Every transaction counts up, whatever it writes, and
 * nothing that was kept before is used after.
 */
const MOST = 1000;
const MOST_RECORDS = 5000;

export interface Kept {
  get(key: string): unknown;
  put(key: string, answer: unknown): void;
  /** Records by their number, read with these relations under this model; undefined where visitors see none. */
  records(model: ModelIndex, relations: ReadonlySet<string> | undefined): Map<number, ContentRecord | undefined>;
}

const EVERY: ReadonlySet<string> = new Set();

class Held implements Kept {
  private readonly answers = new Map<string, unknown>();
  private readonly loaded = new WeakMap<
    ModelIndex,
    WeakMap<ReadonlySet<string>, Map<number, ContentRecord | undefined>>
  >();

  get(key: string): unknown {
    const found = this.answers.get(key);
    if (found !== undefined) {
      // The one used last goes last.
      this.answers.delete(key);
      this.answers.set(key, found);
    }
    return found;
  }

  put(key: string, answer: unknown): void {
    this.answers.set(key, answer);
    const [oldest] = this.answers.keys();
    if (this.answers.size > MOST && oldest !== undefined) this.answers.delete(oldest);
  }

  records(model: ModelIndex, relations: ReadonlySet<string> = EVERY): Map<number, ContentRecord | undefined> {
    let byRelations = this.loaded.get(model);
    if (!byRelations) this.loaded.set(model, (byRelations = new WeakMap()));
    let records = byRelations.get(relations);
    if (!records) byRelations.set(relations, (records = new Map()));
    for (const oldest of records.keys()) {
      if (records.size <= MOST_RECORDS) break;
      records.delete(oldest);
    }
    return records;
  }
}

let state = { of: '', held: new Held() };

/** What is kept as of now. Answers put into it later than the next change are never read. */
export async function keptNow(): Promise<Kept> {
  const of = `${process.env.PLUM_DATABASE} ${await freshVersion()}`;
  if (state.of !== of) state = { of, held: new Held() };
  return state.held;
}

/** Forgets what is kept here. */
export function forgetKept(): void {
  state = { of: '', held: new Held() };
}

/** Forgets everything that was read of content: what is kept here, and columns that lists are answered from. */
export function forgetAnswers(): void {
  forgetKept();
  forgetColumns();
}
