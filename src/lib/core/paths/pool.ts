import type { ContentRecord } from '../schema/record';

/** What a pool is asked for: a loop made ready. Loops make them, and pools that answer lists know what is in them. */
export interface ListRequest {
  readonly id: string;
}

/** One entry of rows, or of another list of values: by the id of its sub-field. */
export type Row = Record<string, unknown>;
/** What a loop has one turn for, and a path one step from. */
export type Thing = ContentRecord | Row;

/** One page of what a loop goes over. `total` counts all pages. */
export interface LoopList {
  /** Records, or rows where the loop goes over values. */
  items: Thing[];
  total: number;
  /** From 1. */
  page: number;
  pages: number;
}

/** How many records each option of a facet would leave, with all that is asked beside it; of a range its two ends. */
export interface FacetCount {
  options: ReadonlyMap<string, number>;
  /** As the index has it: numbers as they are, days, or milliseconds since 1970. */
  low?: number;
  high?: number;
}

export type FacetCounts = ReadonlyMap<string, FacetCount>;
