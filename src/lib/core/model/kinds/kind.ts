import type { z } from 'zod';
import type { Reader } from '../model-index';
import type { Site } from '../../schema/model';

/**
 * What rules, formats and slots ask of a value. Several kinds may share a family (text and long text), so that a new
 * kind works with what is there at once.
 */
export type Family =
  | 'text'
  | 'rich'
  | 'number'
  | 'yesno'
  | 'date'
  | 'time'
  | 'datetime'
  | 'choice'
  | 'link'
  | 'picture'
  | 'file'
  | 'embed'
  | 'icon'
  | 'colour'
  | 'place'
  | 'relation'
  | 'rows'
  | 'terms';

/** One control in the form that sets a field up. */
export interface SettingControl {
  name: string;
  label: string;
  as: 'words' | 'number' | 'switch' | 'options' | 'lines' | 'types' | 'side' | 'fields';
  help?: string;
}

/** The input that changes a value, by name; see `src/lib/studio/values/`. */
export type Control =
  | 'line'
  | 'area'
  | 'rich'
  | 'number'
  | 'yesno'
  | 'date'
  | 'time'
  | 'datetime'
  | 'choice'
  | 'choices'
  | 'link'
  | 'media'
  | 'embed'
  | 'icon'
  | 'colour'
  | 'place'
  | 'records'
  | 'rows'
  | 'none';

/**
 * What the database index holds of a value; each may be missing. Dates count in days, times in minutes, instants in
 * milliseconds since 1970. `sort` is text as written, for the order by collation.
 */
export interface Indexed {
  number?: number;
  text?: string;
  sort?: string;
}

/** Ids of what a value points at outside its own record. */
export interface Refs {
  records: number[];
  media: number[];
}

/** What plausible values are made up from; the same seed gives the same. */
export interface Inventor {
  /** A number from 0 up to 1. */
  random(): number;
  words(count: number): string;
  sentence(): string;
  name(): string;
  /** Days since 1970 of today. */
  today: number;
  /** Ids that a made-up value may point at. */
  pictures: number[];
  files: number[];
  records(typeIds: string[]): number[];
}

export type JsonSchema = Record<string, unknown>;

/**
 * One kind of field. `V` is one value as records hold it, `S` the field's settings. Everything that deals with fields
 * (forms, shelf, rules, loops, the index, the API, import and export) learns of a kind from here; it is listed in
 * `./index.ts`.
 */
export interface FieldKind<V = unknown, S = unknown> {
  name: string;
  label: string;
  /** Short mark on the shelf; a letter or sign, so that kinds differ without colour. */
  glyph: string;
  family: Family;
  /** False for kinds that only built-in values have. */
  forFields: boolean;
  control: Control;
  settings: z.ZodType<S>;
  settingControls: SettingControl[];
  /** Settings of a new field of this kind. */
  starts?: () => Record<string, unknown>;
  /** Whether a field so set holds several values. */
  many?(settings: S): boolean;
  /** How many values a field so set takes at least and at most. */
  limits?(settings: S): { least?: number; most?: number };
  /** Accepts one value of a field so set. Messages say what would be right. */
  value(settings: S): z.ZodType<V>;
  /** Brings a list of accepted values into the order in which they are kept. */
  tidy?(values: V[], settings: S): V[];
  isEmpty(value: V): boolean;
  /** True where the value points at something that is no longer there, or that the reader may not see. */
  gone?(value: V, reader: Reader): boolean;
  /** The value as people read it. */
  text(value: V, settings: S, reader: Reader): string;
  /** For kinds where finding how to write costs more than writing: what writes all values of a field so set. */
  writer?(settings: S, site: Site): (value: V) => string;
  /** The value as blocks of HTML, where that differs from one paragraph of text. */
  blocks?(value: V, settings: S): string;
  /** The value as an address, for kinds that lead somewhere. */
  url?(value: V, reader: Reader): string;
  /** What filters and orders look up; kinds without it cannot be ordered by. */
  index?(value: V, settings: S): Indexed;
  /** The text in which visitors search a value; kinds without it are not searched. */
  words?(value: V, settings: S): string;
  /** One value as JSON Schema (2020-12). */
  schema(settings: S): JsonSchema;
  /** What a cell of a table says, to be accepted by `value`; text by itself without it. Returns the cell where it says nothing. */
  fromCell?(cell: string, settings: S): unknown;
  /** The value in a cell of a table; text by itself without it. */
  toCell?(value: V, settings: S): string;
  /** What a value points at. Kinds that are numbers of something say of what. */
  pointsAt?: 'record' | 'media';
  refs?(value: V, settings: S): Refs;
  /** The value without what it pointed at; undefined where nothing is left. */
  without?(value: V, settings: S, gone: Refs): V | undefined;
  /** A plausible value, made up. */
  invent(make: Inventor, settings: S): V | undefined;
}

/** For kinds whose every value is one, such as 0 and "no"; paths leave the question out. */
export const neverEmpty = (): boolean => false;

/** Keeps `V` and `S` checked where a kind is written, and plain where kinds are listed. */
export function defineKind<V, S>(kind: FieldKind<V, S>): FieldKind {
  return kind as unknown as FieldKind;
}

export const pickOne = <T>(make: Inventor, list: readonly T[]): T | undefined =>
  list[Math.floor(make.random() * list.length)];
