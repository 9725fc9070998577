import type { Sign } from '../../base/icons';
import type { SchemaInside, SchemaNode } from './schema-node';
import type { z } from 'zod';
import type { Family, ShownAs } from '../family';
import type { Reader } from '../model-index';
import type { Model, Site } from '../../schema/model';

/** One control in the form that sets a field up. */
export interface SettingControl {
  name: string;
  label: string;
  as: 'words' | 'number' | 'switch' | 'options' | 'players' | 'types' | 'side' | 'fields';
  help?: string;
}

/** The input that changes a value, by name; see `src/lib/studio/values/`. */
export type Control =
  | 'line'
  | 'area'
  | 'rich'
  | 'number'
  | 'money'
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
  /** Drawn beside its name on the shelf and in forms. */
  sign: Sign;
  family: Family;
  /** What shows one value at its best, where that is not what the family says. */
  role?: ShownAs;
  /** What comes from outside as a value is reduced to: allowed markup, or an allowed player. Both have `hosts` of players as a setting. */
  outside?: 'markup' | 'player';
  /** False for kinds that only built-in values have. */
  forFields: boolean;
  control: Control;
  /** What may be typed, where the label does not tell. */
  example?: string;
  /** The type of a plain line of input, for the keyboards of phones. */
  input?: 'email' | 'tel';
  settings: z.ZodType<S>;
  settingControls: SettingControl[];
  /** Settings of a new field of this kind, `from` those of the kind that it was before. */
  starts?(from: Record<string, unknown>, model: Pick<Model, 'types'>): Record<string, unknown>;
  /** What to do first, where values cannot become this kind before it is set up. */
  unset?: string;
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
  /** What those who design and write are told it is, where its text does not say it; undefined where that does. */
  called?(value: V, settings: S, reader: Reader): string | undefined;
  /** For kinds where finding how to write costs more than writing: what writes all values of a field so set. */
  writer?(settings: S, site: Site): (value: V) => string;
  /** The value as blocks of HTML, where that differs from one paragraph of text. */
  blocks?(value: V, settings: S): string;
  /** The value as an address, for kinds that lead somewhere. */
  url?(value: V, reader: Reader): string;
  /** The text in which visitors search a value; kinds without it are not searched. */
  words?(value: V, settings: S): string;
  /** One value as JSON Schema (2020-12). */
  schema(settings: S): JsonSchema;
  /** The settings of a field for what a foreign schema describes; undefined where that is none of this kind. */
  fromSchema?(node: SchemaNode, inside: SchemaInside): Record<string, unknown> | undefined;
  /** Understands what no other kind does, and is asked last. */
  last?: boolean;
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

/** What shows one value, or several, at their best. */
export const roleOf = ({ role, family }: Pick<FieldKind, 'role' | 'family'>, many: boolean): ShownAs =>
  many ? family.severalRole : (role ?? family.role);

/** Whether the index holds values of a kind; those of relations and terms stand in tables of their own. */
export const isIndexed = ({ family: { columns } }: Pick<FieldKind, 'family'>): boolean =>
  Boolean(columns.number ?? columns.text ?? columns.sort);
