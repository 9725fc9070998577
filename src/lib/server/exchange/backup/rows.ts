import { z } from 'zod';
import { problemsOf, type Problem } from '../../../core/base/result';
import { DesignSchema } from '../../../core/releases/design';
import { TreeSchema } from '../../../core/schema/element';
import { FieldSchema, type Field } from '../../../core/schema/field';
import type { PlainRow } from '../../queries/snapshot';
import { Refusal } from '../../base/refusal';
import { cleanHtml, cleanValue } from '../../services/html';
import type { AccountNumbers } from './accounts';

export const refused = (problems: Problem[]) => new Refusal(422, 'The backup cannot be read.', problems);
export const wrong = (at: string, what: string, fix?: string) => refused([{ at, what, ...(fix ? { fix } : {}) }]);

/** Text of a part as what a schema says; a refusal names the place. */
export function json<T>(schema: z.ZodType<T>, text: string, at: string): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw wrong(at, 'This is not JSON.');
  }
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw refused(problemsOf(parsed.error, at).slice(0, 20));
  return parsed.data;
}

/** A row by the names of its columns. */
export class Cells {
  constructor(
    private readonly columns: readonly string[],
    readonly row: PlainRow,
  ) {}
  get(name: string): string | null {
    return this.row[this.columns.indexOf(name)] ?? null;
  }
  set(name: string, value: string | null): void {
    const at = this.columns.indexOf(name);
    if (at >= 0) this.row[at] = value;
  }
}

/** What is known while tables are filled, one after the other. */
export class Filling {
  readonly fields = new Map<string, Field>();
  readonly parents: [string, string][] = [];
  accounts: AccountNumbers | undefined;

  /** Fields that records may have values of: those of now, and those that a release still shows. */
  know(field: unknown): void {
    const parsed = FieldSchema.safeParse(field);
    if (parsed.success && !this.fields.has(parsed.data.id)) this.fields.set(parsed.data.id, parsed.data as Field);
  }

  /** The values of a record, each through the door for what comes from outside. */
  values(text: string, at: string): string {
    // Where no sign of markup is, none is to be reduced.
    if (!text.includes('<')) return text;
    const values = json(z.record(z.string(), z.unknown()), text, at);
    return JSON.stringify(
      Object.fromEntries(
        Object.entries(values).map(([id, value]) => {
          const field = this.fields.get(id);
          if (field) return [id, cleanValue(field, value)];
          return [id, typeof value === 'string' && value.includes('<') ? cleanHtml(value) : value];
        }),
      ),
    );
  }
}

/** What is done with the rows of some tables on their way in. */
export const ROWS: Record<string, (cells: Cells, at: string, filling: Filling) => void> = {
  fields(cells, _, filling) {
    const parse = (text: string | null): unknown => (text === null ? undefined : JSON.parse(text));
    filling.know({
      id: cells.get('id'),
      key: cells.get('key'),
      label: cells.get('label'),
      kind: cells.get('kind'),
      settings: parse(cells.get('settings')),
    });
  },
  releases(cells, at, filling) {
    // A design of before the model was part of it is brought up to date by what its migration left to do.
    const design = JSON.parse(cells.get('design') ?? 'null') as { types?: { fields?: unknown[] }[] };
    for (const type of design.types ?? []) for (const field of type.fields ?? []) filling.know(field);
    if (design.types) json(DesignSchema, cells.get('design') ?? '', at);
  },
  templates: (cells, at) => void json(TreeSchema, cells.get('tree') ?? '', at),
  template_versions: (cells, at) => void json(TreeSchema, cells.get('tree') ?? '', at),
  authors: (cells) => cells.set('about', cleanHtml(cells.get('about') ?? '')),
  terms(cells, _, filling) {
    const [id, parent] = [cells.get('id'), cells.get('parent_id')];
    // Terms first stand alone, since those above them may come later.
    if (id && parent) filling.parents.push([id, parent]);
    cells.set('parent_id', null);
  },
  records: (cells, at, filling) => cells.set('values', filling.values(cells.get('values') ?? '{}', at)),
};
