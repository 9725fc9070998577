import type { Snippet } from 'svelte';
import type { Field } from '$lib/core/schema/field';

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
  /** The input of any other field, for kinds that hold fields. */
  input?: Snippet<[ValueInputProps]>;
}

/** What the input of a field of any kind is given. */
export type ValueInputProps = Omit<InputProps, 'settings' | 'input'>;
