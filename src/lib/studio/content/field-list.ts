import type { Field } from '$lib/core/schema/field';
import type { Model } from '$lib/core/schema/model';
import type { Problem } from '$lib/core/base/result';

/** What relations shall be called on their other side, by the id of the field on this one. */
export type OtherSides = Record<string, { label: string; many: boolean }>;

/** A list of fields that is set up: those of a type, or of rows. */
export interface FieldListProps {
  fields: Field[];
  saved: Field[];
  model: Model;
  typeId: string;
  /** Where these fields stand in problems. */
  at: string;
  problems: Problem[];
  others: OtherSides;
  tabs: string[];
  /** How many records have a value, by field, and how many there are. */
  fill?: { total: number; fields: Record<string, number> };
  /** How many have a value is being counted. */
  counting?: boolean;
  inRows?: boolean;
  onchange: (fields: Field[]) => void;
  /** Asked before a kept field goes; takes it away itself. */
  onremove?: (field: Field) => void;
}
