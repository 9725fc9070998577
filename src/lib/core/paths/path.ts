import { z } from 'zod';
import type { Field } from '../model/field';
import type { FieldKind } from '../model/kinds/kind';
import type { ArchiveScope } from '../serving/archives';

/**
 * From a scope, step by step, to a value. `from` is `record`, `archive`, `site` or `loop:<element id>`; a step is a
 * field's id or a built-in value's name, which starts with `@`.
 */
export const PathSchema = z.object({
  from: z.string().regex(/^(record|archive|site|loop:[A-Za-z0-9_-]{1,60})$/, {
    error: 'A path starts at record, archive, site or a loop.',
  }),
  steps: z.array(z.string().min(1).max(80)).max(12, { error: 'A path has 12 steps at most.' }),
});
export type Path = z.infer<typeof PathSchema>;

export const samePath = (a: Path, b: Path): boolean => a.from === b.from && a.steps.join('/') === b.steps.join('/');

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
  depth: number;
}

/** What is known of a place in a template before it is drawn: where paths may start, and at what. */
export interface Scopes {
  recordTypeIds?: string[];
  archive?: ArchiveScope;
  /** Outermost first. */
  loops: LoopScope[];
}
