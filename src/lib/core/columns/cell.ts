/**
 * One value of a record as the database has it to be looked up, see `Family.columns`. `part` is its place among several,
 * from 0; a record without a value has one that says so.
 */
export interface Cell {
  part: number;
  empty: boolean;
  number: number | null;
  text: string | null;
  /** As it is put in order; see `collationKey`. */
  sort: string | null;
}

/** What of the cells of a step a column holds. */
export type Aspect = 'number' | RankAspect | 'text' | 'filled' | 'numbers' | 'texts' | 'words';

/** The order of texts in one language. A site whose language changes asks for another column. */
export type RankAspect = `rank-${string}`;

export const rankIn = (locale: string): RankAspect => `rank-${locale}`;

/** One aspect of the values at one step of all records of a type, by row. Rows are places in a table, from 0. */
export interface Column {
  readonly aspect: Aspect;
  /** Takes the cells of one record, in the order of their parts; none where it has none. */
  put(row: number, cells: readonly Cell[]): void;
  /** Has a place for each of so many rows, empty where nothing was put. */
  reach(rows: number): void;
  /** Estimate of the memory it takes, in bytes. */
  bytes(): number;
}
