import type { CompiledPath } from '../paths/compile';
import type { LoopSource, GroupedBy } from '../schema/loop';
import type { LoopScope, ValueType } from '../paths/scopes';
import type { Problem } from '../base/result';
import type { CompiledRule } from '../rules/compile';
import type { Take } from '../schema/binding';

export interface OrderKey {
  path: CompiledPath;
  take?: Take;
  /** Of what is compared: that of the path after its take. */
  type: ValueType;
  /** For a value of the record itself: its step. */
  step?: string;
  down: boolean;
}

/** A loop made ready: what a pool needs to answer which records it goes over. */
export interface CompiledLoop {
  id: string;
  scope: LoopScope;
  source: LoopSource;
  /** Reads what a source at a path goes over, or the terms that others lie below. */
  values?: CompiledPath;
  filter?: CompiledRule;
  order: OrderKey[];
  skip: number;
  limit?: number;
  perPage?: number;
  leaveOut: { current: boolean; above: boolean };
  group?: { path: CompiledPath; by: GroupedBy; down: boolean };
  visitors?: Visitors;
  /** Words that each record must have in these fields; set by what a visitor asks. */
  search?: { words: readonly string[]; fieldIds: readonly string[] };
  /** The loop as it is without what a visitor asks. */
  asked?: CompiledLoop;
  /** How a page of it is asked for in an address; undefined for loops that have no pages of their own. */
  pageKey?: string;
  problems: Problem[];
}

/** One field that visitors filter by. Ranges have a least and a largest value, all others options. */
export interface Facet {
  /** Stands for it in addresses. */
  key: string;
  label: string;
  step: string;
  path: CompiledPath;
  range: boolean;
}

/** What visitors may choose of a loop, made ready. */
export interface Visitors {
  searchKey: string;
  /** Field ids. */
  search: string[];
  facets: Facet[];
  sortKey: string;
  sorts: { key: string; label: string; order: OrderKey }[];
}
