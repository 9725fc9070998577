import type { Field } from '../schema/field';
import type { FieldKind } from '../model/kinds/kind';
import type { ArchiveScope } from '../addresses/archives';

/** What stands at the end of a path, known before any record is read. */
export interface ValueType {
  kind: FieldKind;
  settings: unknown;
  many: boolean;
  /** Words for the path from its scope on, such as `Warden → Name`. */
  label: string;
  /** Content types of the records at the end, for relations. */
  typeIds: string[];
}

/** One loop whose item a path may start from. */
export interface LoopScope {
  id: string;
  name: string;
  typeIds: string[];
  /** For a loop over rows or other values: what each of them has. */
  fields?: Field[];
  /** Whether it parts its items under heads. */
  grouped?: boolean;
  /** Whether what it goes over may have been searched for. */
  searched?: boolean;
  depth: number;
}

/** What is known of a place in a template before it is drawn: where paths may start, and at what. */
export interface Scopes {
  recordTypeIds?: string[];
  archive?: ArchiveScope;
  /** Outermost first. */
  loops: LoopScope[];
}
