import type { Written } from './changes';

/** The key of whatever is made from a record, or from a list of a content type. Nothing else of keys is known to anybody. */
const ofRecord = (id: number): string => `record-${id}`;
const ofType = (typeId: string): string => `type-${typeId}`;

/** What a page was made from beside the design: records by their numbers, and content types of which it lists something. */
export class Reads {
  private readonly keys = new Set<string>();

  record(id: number): void {
    this.keys.add(ofRecord(id));
  }

  type(typeId: string): void {
    this.keys.add(ofType(typeId));
  }

  /** Everything it was made from, under which it is found when something of that changes. */
  all(): ReadonlySet<string> {
    return this.keys;
  }
}

/** The keys of all that is made from any of these records, by themselves or on a list. */
export const keysOf = (written: readonly Written[]): Set<string> =>
  new Set(written.flatMap(({ id, typeId }) => [ofRecord(id), ofType(typeId)]));
