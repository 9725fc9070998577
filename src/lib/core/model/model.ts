import type { ModelIndex } from './model-index';
import { ContentTypeSchema, type ContentType, type Term, type Model } from '../schema/model';
import { fail, ok, problemsOf, type Result } from '../base/result';

import { parseFields } from './field';
import './kinds';

export { kindOf } from './field';
export type { Field } from '../schema/field';

export function indexModel(
  given: Omit<Model, 'rules' | 'menus'> & Partial<Pick<Model, 'rules' | 'menus'>>,
): ModelIndex {
  const model: Model = { ...given, rules: given.rules ?? [], menus: given.menus ?? [] };
  const types = new Map(model.types.map((type) => [type.id, type]));
  const fields = new Map(model.types.flatMap((type) => type.fields.map((field) => [field.id, { field, type }])));
  const taxonomies = new Map(model.taxonomies.map((taxonomy) => [taxonomy.id, taxonomy]));
  const terms = new Map(model.terms.map((term) => [term.id, term]));
  const authors = new Map(model.authors.map((author) => [author.id, author]));
  const rules = new Map(model.rules.map((rule) => [rule.id, rule]));
  const menus = new Map(model.menus.map((menu) => [menu.id, menu]));
  const above = new Map<string, string[]>();
  const below = new Map<string, string[]>(model.terms.map((term) => [term.id, []]));
  for (const term of model.terms) {
    const line: string[] = [];
    for (
      let at: Term | undefined = term;
      at && !line.includes(at.id);
      at = at.parentId ? terms.get(at.parentId) : undefined
    )
      line.push(at.id);
    above.set(term.id, line);
    for (const id of line) below.get(id)?.push(term.id);
  }
  const inOrder = new Map(
    model.taxonomies.map(({ id }) => [
      id,
      termRows(model.terms.filter((term) => term.taxonomyId === id)).map(({ term }) => term),
    ]),
  );
  return {
    ...model,
    type: (id) => types.get(id),
    field: (id) => fields.get(id),
    taxonomy: (id) => taxonomies.get(id),
    term: (id) => terms.get(id),
    author: (id) => authors.get(id),
    rule: (id) => rules.get(id),
    menu: (id) => menus.get(id),
    above: (id) => above.get(id) ?? [],
    below: (id) => below.get(id) ?? [],
    termsOf: (id) => inOrder.get(id) ?? [],
  };
}

/** Parses a content type, its fields and the settings of each field's kind. */
export function parseContentType(input: unknown): Result<ContentType> {
  const parsed = ContentTypeSchema.safeParse(input);
  if (!parsed.success) return fail(...problemsOf(parsed.error));
  const type = parsed.data;
  const fields = parseFields(type.fields, 'fields');
  return fields.ok ? ok({ ...type, fields: fields.value }) : fields;
}

/** A term in the order of its tree. */
export interface TermRow {
  term: Term;
  /** 0 at the top. */
  depth: number;
  /** Place among the terms beside it, from 0, and how many these are. */
  at: number;
  of: number;
}

/** Terms of one taxonomy from top to bottom, each before those below it. */
export function termRows(terms: readonly Term[]): TermRow[] {
  const below = new Map<string | null, Term[]>();
  for (const term of terms) {
    const own = below.get(term.parentId);
    if (own) own.push(term);
    else below.set(term.parentId, [term]);
  }
  const rows: TermRow[] = [];
  const add = (parentId: string | null, depth: number): void => {
    const own = below.get(parentId) ?? [];
    for (const [at, term] of own.entries()) {
      rows.push({ term, depth, at, of: own.length });
      add(term.id, depth + 1);
    }
  };
  add(null, 0);
  return rows;
}
