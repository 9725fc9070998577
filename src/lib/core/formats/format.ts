import type { z } from 'zod';
import type { Written } from '../model/family';
import type { Site } from '../schema/model';
import type { Path } from '../schema/path';

/** One control in the form that sets a format up. */
export interface FormatControl {
  name: string;
  label: string;
  as: 'number' | 'pick' | 'words' | 'switch' | 'path';
  options?: { value: string; label: string }[];
  /** How it is written, where that is not plain. */
  hint?: string;
  /** Shown only while another option has one of these values. */
  when?: { name: string; is: string | string[] };
  /** For a path: what the values are that may be chosen. */
  writes?: Written;
}

/** What a format may need beside the value itself. */
export interface FormatContext {
  site: Site;
  /** The settings of the value's kind, such as a number's unit and a choice's options. */
  settings: Record<string, unknown>;
  /** Today in the site's time zone, a full-date. */
  today: string;
  /** The value at the format's own path, if it has one and there is a value. */
  other?: unknown;
}

/**
 * One way to write a value. The first of a chain gets the value itself where that is what it writes;
 * a format for text takes any value in the form people read, and whatever a format before it wrote. Of several values
 * each is written by itself, but by formats of lists, which get the texts of all.
 */
export interface Format<O = unknown> {
  name: string;
  label: string;
  /** What it writes; every value as it reads where that is text. Formats of lists have none. */
  writes?: Written;
  /** It makes sense for running text alone, though it takes any; it is not offered for other values. */
  ofProse?: true;
  /** Writes a list of texts as one; `write` gets an array. */
  ofLists?: boolean;
  options: z.ZodType<O>;
  controls: FormatControl[];
  /** Where another value is read that the format needs. */
  path?(options: O): Path | undefined;
  write(value: unknown, options: O, context: FormatContext): string;
}

export function defineFormat<O>(format: Format<O>): Format {
  return format as unknown as Format;
}

/** Options of a pick from plain words: `pick('s', 'Small', 'm', 'Medium')`. */
export function pick(...pairs: string[]): { value: string; label: string }[] {
  const out = [];
  for (let i = 0; i < pairs.length; i += 2) out.push({ value: pairs[i] as string, label: pairs[i + 1] as string });
  return out;
}
