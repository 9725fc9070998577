import type { Field } from '$lib/core/model/model';

/** What every input of a value is given. Empties are undefined or null; a change to empty is null. */
export interface InputProps {
  field: Field;
  settings: Record<string, unknown>;
  value: unknown;
  /** Of the control that the field's label belongs to. */
  id: string;
  invalid: boolean;
  describedby?: string;
  onchange: (value: unknown) => void;
}
