import type { CompiledLoop } from '../loops/compiled';
import type { ModelIndex } from '../model/model-index';
import type { Env } from '../paths/env';
import type { Aspect, Column } from './cell';
import type { Table } from './table';

/** Words and the fields they are searched in; every field without. */
export interface Search {
  words: readonly string[];
  fieldIds?: readonly string[];
  /** Fields in which nothing is found, being none of the model. */
  but?: readonly string[];
}

/** What lists are read from. What is not there is noted, and the whole question put again once it is. */
export interface Tables {
  /** The records of a type. */
  table(typeId: string): Table | undefined;
  column(table: Table, aspect: Aspect, step: string): Column | undefined;
}

/** A question about the records of tables, and where it is answered from. */
export interface Reading {
  /** What a path starts from that is read of each record, such as `record` or `loop:cards`. */
  own: string;
  env: Env;
  model: ModelIndex;
  tables: Tables;
  /** The reader sees drafts. */
  drafts: boolean;
}

/** A question about a list. */
export interface ListReading extends Reading {
  loop: CompiledLoop;
}

/** What is asked where a list is. */
export const readingOf = (loop: CompiledLoop, env: Env, tables: Tables, drafts: boolean): ListReading => ({
  loop,
  env,
  tables,
  drafts,
  own: `loop:${loop.id}`,
  model: env.model,
});

/** Thrown where something is not there yet that an answer needs. */
export class Lacking extends Error {}

/** The terms that records are under, as texts. */
export const TERMS = '@terms';

/** The records linked to those of a table, as numbers, in their order; the table's are the `side` of the relation. */
export const linksStep = (relationId: string, side: 'a' | 'b'): string => `@links ${side} ${relationId}`;

/** What the step of links is about, or undefined. */
export function linksOf(step: string): { relationId: string; side: 'a' | 'b' } | undefined {
  const [, side, relationId] = /^@links ([ab]) (.*)$/.exec(step) ?? [];
  return side && relationId ? { relationId, side: side as 'a' | 'b' } : undefined;
}

/** The words of a field of records, in the form in which they are searched. */
export const wordsStep = (fieldId: string): string => `@words ${fieldId}`;

/** The field whose words stand at this step, or undefined. */
export const wordsOf = (step: string): string | undefined => /^@words (.*)$/.exec(step)?.[1];

/** Built-in values that are kept like those of fields. */
export const INDEXED = new Set(['@title', '@type', '@status', '@created', '@changed', '@published', '@slug']);

export function tableOf(reading: Reading, typeId: string): Table {
  const table = reading.tables.table(typeId);
  if (!table) throw new Lacking();
  return table;
}

export function columnAt<C extends Column>(reading: Reading, table: Table, aspect: Aspect, step: string): C {
  const column = reading.tables.column(table, aspect, step);
  if (!column) throw new Lacking();
  return column as C;
}

/** The row of a record of any of the model's types that the reader sees, looked for in these types first. */
export function seenAt(reading: Reading, typeIds: readonly string[]): (id: number) => boolean {
  const { model, drafts } = reading;
  const all = [...typeIds.filter((id) => model.type(id)), ...model.types.map(({ id }) => id)];
  const tables = [...new Set(all)].map((id) => tableOf(reading, id));
  return (id) => {
    for (const table of tables) {
      const row = table.rowOf(id);
      if (row !== undefined) return drafts || table.shown.has(row);
    }
    return false;
  };
}

/** What a question comes to, or undefined where something is not there yet. */
export function orLacking<T>(body: () => T): T | undefined {
  try {
    return body();
  } catch (error) {
    if (error instanceof Lacking) return undefined;
    throw error;
  }
}

/** Goes on after something is lacking, so that all of it is noted at once. */
export function eachOf<A, B>(list: readonly A[], make: (one: A) => B): B[] {
  let lacking: Lacking | undefined;
  const out: B[] = [];
  for (const one of list)
    try {
      out.push(make(one));
    } catch (error) {
      if (!(error instanceof Lacking)) throw error;
      lacking = error;
    }
  if (lacking) throw lacking;
  return out;
}
