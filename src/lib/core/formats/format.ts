import type { z } from 'zod';
import type { Family } from '../model/kinds/kind';
import type { Site } from '../model/model';

/** One control in the form that sets a format up. */
export interface FormatControl {
  name: string;
  label: string;
  as: 'number' | 'pick' | 'words' | 'switch';
  options?: { value: string; label: string }[];
  /** Shown only while another option has this value. */
  when?: { name: string; is: string };
}

/**
 * One way to write a value. The first of a chain gets the value itself where its families include the value's own;
 * a format for text takes any value in the form people read, and whatever a format before it wrote.
 */
export interface Format<O = unknown> {
  name: string;
  label: string;
  families: Family[];
  options: z.ZodType<O>;
  controls: FormatControl[];
  /** `unit` is the number field's own unit, if any. */
  write(value: unknown, options: O, context: { site: Site; unit?: string }): string;
}

export function defineFormat<O>(format: Format<O>): Format {
  return format as unknown as Format;
}
