import { fieldSchema, isList, kindOf, relationOf, subFieldsOf } from '../model/field';
import type { Field } from '../schema/field';
import type { JsonSchema } from '../model/kinds/kind';

/** Looks up what text in a file means. Undefined where nothing, or several things, are meant. */
export interface Finder {
  /** A record of one of these types by `#number`, slug or title. */
  record(typeIds: string[], text: string): number | undefined;
  /** A picture or file of the library by `#number` or name. */
  media(text: string): number | undefined;
}

/** Names under which records are written into files. */
export interface Namer {
  /** A record's slug. */
  record(id: number): string;
}

const PARTS = /\\([\\|])|\|/g;

/** The parts of a cell that holds several values, parted by `|`; `\|` stands for itself. */
export function splitCell(cell: string): string[] {
  const parts = [''];
  let at = 0;
  for (const match of cell.matchAll(PARTS)) {
    parts[parts.length - 1] += cell.slice(at, match.index) + (match[1] ?? '');
    if (match[1] === undefined) parts.push('');
    at = match.index + match[0].length;
  }
  parts[parts.length - 1] += cell.slice(at);
  return parts.map((part) => part.trim()).filter(Boolean);
}

export const joinCells = (parts: string[]): string => parts.map((part) => part.replace(/[\\|]/g, '\\$&')).join(' | ');

/** A value for a file that holds JSON: relations by slug, rows by the keys of their sub-fields, all else as records hold it. */
export function toPlain(field: Field, value: unknown, namer: Namer): unknown {
  const known = kindOf(field);
  if (!known || value === undefined) return undefined;
  const { kind } = known;
  const one = (v: unknown): unknown => {
    if (kind.pointsAt === 'record') return namer.record(v as number);
    if (kind.pointsAt === 'media') return `#${v as number}`;
    const fields = subFieldsOf(field);
    if (!fields) return v;
    return Object.fromEntries(
      fields.flatMap((sub) => {
        const inner = toPlain(sub, (v as Record<string, unknown>)[sub.id], namer);
        return inner === undefined ? [] : [[sub.key, inner]];
      }),
    );
  };
  return Array.isArray(value) ? value.map(one) : one(value);
}

/** A value as the cell of a table. Rows are written as JSON. */
export function toCell(field: Field, value: unknown, namer: Namer): string {
  const known = kindOf(field);
  if (!known || value === undefined) return '';
  const { kind, settings } = known;
  const plain = toPlain(field, value, namer);
  if (subFieldsOf(field)) return JSON.stringify(plain);
  const one = (v: unknown): string => (kind.pointsAt ? String(v) : (kind.toCell?.(v, settings) ?? String(v)));
  return isList(known) ? joinCells((plain as unknown[]).map(one)) : one(plain);
}

/**
 * What a file says of a field, brought into the form that the field takes, to be checked as any input. What cannot be
 * understood stays as it is, so that the check can say what is wrong with it.
 */
export function fromPlain(field: Field, given: unknown, find: Finder, misses: string[] = []): unknown {
  const known = kindOf(field);
  if (!known || given === null || given === undefined || given === '') return null;
  const { kind, settings } = known;
  const fields = subFieldsOf(field);
  let value: unknown = given;
  if (isList(known) && typeof value === 'string') {
    if (fields) {
      try {
        value = JSON.parse(value) as unknown;
      } catch {
        return value;
      }
    } else value = splitCell(value);
  }
  const one = (v: unknown): unknown => {
    if (kind.pointsAt) return resolve(field, v, find, misses);
    if (fields) return v && typeof v === 'object' ? rowFrom(v as Record<string, unknown>, fields, find, misses) : v;
    if (typeof v === 'string' && kind.fromCell) return kind.fromCell(v, settings);
    // Numbers and booleans of a file are words where text is asked for.
    if (typeof v === 'number' && kind.family.wordsOfNumbers) return String(v);
    return v;
  };
  if (!isList(known)) return one(value);
  return Array.isArray(value) ? value.map(one) : [one(value)];
}

function rowFrom(
  row: Record<string, unknown>,
  fields: Field[],
  find: Finder,
  misses: string[],
): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(row).map(([name, inner]) => {
      const sub = fields.find((f) => f.key === name) ?? fields.find((f) => f.id === name);
      return sub ? [sub.id, fromPlain(sub, inner, find, misses)] : [name, inner];
    }),
  );
}

function resolve(field: Field, given: unknown, find: Finder, misses: string[]): unknown {
  if (typeof given === 'number') return given;
  if (typeof given !== 'string') return given;
  const known = kindOf(field);
  const id =
    known?.kind.pointsAt === 'media' ? find.media(given) : find.record(relationOf(field)?.typeIds ?? [], given);
  if (id === undefined) misses.push(given);
  return id ?? given;
}

const ID = { type: ['integer', 'string'], minimum: 1, minLength: 1 };

/** A field's value in files, as JSON Schema: as records hold it, but for what is named instead of numbered. */
export function plainSchema(field: Field): JsonSchema {
  const schema = fieldSchema(field);
  const known = kindOf(field);
  if (!known) return schema;
  if (known.kind.pointsAt)
    return isList(known) ? { ...schema, items: { ...(schema.items as object), ...ID } } : { ...schema, ...ID };
  const fields = subFieldsOf(field);
  if (!fields) return schema;
  return {
    ...schema,
    items: {
      ...(schema.items as object),
      properties: Object.fromEntries(fields.map((sub) => [sub.key, plainSchema(sub)])),
    },
  };
}
