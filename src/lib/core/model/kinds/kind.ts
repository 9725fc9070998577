import type { z } from 'zod';
import type { Reader } from '../../content/reader';
import type { Site } from '../model';

/**
 * What rules, formats and slots ask of a value. Several kinds may share a family (text and long text), so that a new
 * kind works with what is there at once.
 */
export type Family =
  'text' | 'number' | 'yesno' | 'date' | 'datetime' | 'choice' | 'link' | 'picture' | 'relation' | 'terms';

/** One control in the form that sets a field up. */
export interface SettingControl {
  name: string;
  label: string;
  as: 'words' | 'number' | 'switch' | 'options' | 'types' | 'type';
  help?: string;
}

/** What the database index holds of a value; either may be missing. Dates count in days, instants in milliseconds since 1970. */
export interface Indexed {
  number?: number;
  text?: string;
}

/**
 * One kind of field. `V` is one value as records hold it, `S` the field's settings. Everything that deals with fields
 * (forms, shelf, rules, loops, the API) learns of a kind from here; it is listed in `./index.ts`.
 */
export interface FieldKind<V = unknown, S = unknown> {
  name: string;
  label: string;
  /** Short mark on the shelf; a letter or sign, so that kinds differ without colour. */
  glyph: string;
  family: Family;
  /** False for kinds that only built-in values have. */
  forFields: boolean;
  /** The input that changes a value of this kind, by name; see `src/lib/studio/values/`. */
  control:
    'line' | 'area' | 'number' | 'yesno' | 'date' | 'datetime' | 'choice' | 'link' | 'picture' | 'records' | 'none';
  settings: z.ZodType<S>;
  settingControls: SettingControl[];
  /** Whether a field so set holds several values. */
  many?(settings: S): boolean;
  /** Accepts one value of a field so set. Messages say what would be right. */
  value(settings: S): z.ZodType<V>;
  isEmpty(value: V): boolean;
  /** True where the value points at something that is no longer there, or that the reader may not see. */
  gone?(value: V, reader: Reader): boolean;
  /** The value as people read it. */
  text(value: V, settings: S, reader: Reader): string;
  /** For kinds where finding how to write costs more than writing: what writes all values of a field so set. */
  writer?(settings: S, site: Site): (value: V) => string;
  /** The value as blocks of HTML, where that differs from one paragraph of text. */
  blocks?(value: V): string;
  /** The value as an address, for kinds that lead somewhere. */
  url?(value: V, reader: Reader): string;
  /** What filters and orders look up; kinds without it cannot be ordered by. */
  index?(value: V): Indexed;
}

/** For kinds whose every value is one, such as 0 and "no"; paths leave the question out. */
export const neverEmpty = (): boolean => false;

/** Keeps `V` and `S` checked where a kind is written, and plain where kinds are listed. */
export function defineKind<V, S>(kind: FieldKind<V, S>): FieldKind {
  return kind as unknown as FieldKind;
}
