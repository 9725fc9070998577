import { z } from 'zod';
import { fail, ok, problemsOf, type Result } from '../result';
import { FieldSchema, Key, parseFields, type Field } from './field';
import { NamedRuleSchema, type NamedRule } from '../rules/named';
import { RESERVED } from '../serving/reserved';
import { MenuSchema, type Menu } from './menu';
import { StructuredSchema } from './structured';
import './kinds';

export { kindOf, type Field } from './field';

export const ContentTypeSchema = z.object({
  id: z.string().min(1).max(40),
  key: Key,
  name: z.string().trim().min(1, { error: 'A content type has a name.' }).max(80),
  plural: z.string().trim().min(1, { error: 'A content type has a name for many.' }).max(80),
  /** What is said of its archive. */
  description: z.string().trim().max(2000).optional(),
  /** First part of its addresses: `huts` gives `/huts/` and `/huts/<slug>`. */
  base: z
    .string()
    .regex(/^[\p{L}\p{N}]+(-[\p{L}\p{N}]+)*$/u, { error: 'An address part has letters, digits and single hyphens.' })
    .max(60)
    .refine((base) => !RESERVED.has(base), { error: 'This address belongs to the application.' }),
  /** How the addresses of its records are made, such as `/journal/{year}/{slug}`; without one from its base. */
  address: z.string().max(200).optional(),
  fields: z.array(FieldSchema),
  taxonomyIds: z.array(z.string()),
  /** What its records are to programs that read the page. */
  structured: StructuredSchema.optional(),
});
export type ContentType = z.infer<typeof ContentTypeSchema>;

export const TaxonomySchema = z.object({
  id: z.string().min(1).max(40),
  /** Also the first part of the addresses of its terms’ archives. */
  key: Key.refine((key) => !RESERVED.has(key.replaceAll('_', '-')), {
    error: 'This is the first part of addresses that belong to the application; choose another key.',
  }),
  name: z.string().trim().min(1, { error: 'A taxonomy has a name.' }).max(80),
  tree: z.boolean(),
});
export type Taxonomy = z.infer<typeof TaxonomySchema>;

export const TermSchema = z.object({
  id: z.string().min(1).max(40),
  taxonomyId: z.string(),
  parentId: z.string().nullable(),
  name: z.string().trim().min(1, { error: 'A term has a name.' }).max(160),
  slug: z
    .string()
    .max(100)
    .regex(/^[\p{L}\p{N}]+(-[\p{L}\p{N}]+)*$/u, { error: 'An address part has letters, digits and single hyphens.' }),
  position: z.number().int(),
  description: z.string().max(5000).default(''),
  pictureId: z.number().int().positive().nullable().default(null),
});
export type Term = z.infer<typeof TermSchema>;

/** Whether the platform knows a locale or time zone; it throws for those it does not. */
const known = (make: () => unknown): boolean => {
  try {
    make();
    return true;
  } catch {
    return false;
  }
};

/** Somebody who writes records. */
export const AuthorSchema = z.object({
  id: z.number().int().positive(),
  name: z.string().trim().min(1, { error: 'An author has a name.' }).max(160),
  slug: z
    .string()
    .max(100)
    .regex(/^[\p{L}\p{N}]+(-[\p{L}\p{N}]+)*$/u, { error: 'An address part has letters, digits and single hyphens.' }),
  /** Rich text. */
  about: z.string().max(100_000).default(''),
  pictureId: z.number().int().positive().nullable().default(null),
});
export type Author = z.infer<typeof AuthorSchema>;

export const SiteSchema = z.object({
  name: z.string().trim().min(1, { error: 'A site has a name.' }).max(200),
  tagline: z.string().trim().max(300),
  /** BCP 47, as `Intl` takes it. */
  locale: z
    .string()
    .max(35)
    .refine((locale) => known(() => new Intl.Locale(locale)), { error: 'This is a language tag, such as en-GB.' }),
  /** IANA name; decides what "today" is. */
  timeZone: z
    .string()
    .max(60)
    .refine((timeZone) => known(() => new Intl.DateTimeFormat('en', { timeZone })), {
      error: 'This is a time zone, such as Europe/London.',
    }),
});
export type Site = z.infer<typeof SiteSchema>;

export const ModelSchema = z.object({
  site: SiteSchema,
  types: z.array(ContentTypeSchema),
  taxonomies: z.array(TaxonomySchema),
  terms: z.array(TermSchema),
  authors: z.array(AuthorSchema).default([]),
  /** Rules of the theme that are kept under a name. */
  rules: z.array(NamedRuleSchema).default([]),
  menus: z.array(MenuSchema).default([]),
});
export type Model = z.infer<typeof ModelSchema>;

/** The model with its look-ups; plain functions over maps made once for each state of the model. */
export interface ModelIndex extends Model {
  type(id: string): ContentType | undefined;
  /** A field of any type, with the type that has it. */
  field(id: string): { field: Field; type: ContentType } | undefined;
  taxonomy(id: string): Taxonomy | undefined;
  term(id: string): Term | undefined;
  author(id: number): Author | undefined;
  /** A rule that is kept under a name. */
  rule(id: string): NamedRule | undefined;
  menu(id: string): Menu | undefined;
  /** The term itself and every term above it, nearest first. */
  above(termId: string): string[];
  /** The term itself and every term below it. */
  below(termId: string): string[];
  /** The terms of a taxonomy, each before those below it. */
  termsOf(taxonomyId: string): Term[];
}

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
export function termRows(terms: readonly Term[], parentId: string | null = null, depth = 0): TermRow[] {
  const own = terms.filter((term) => term.parentId === parentId);
  return own.flatMap((term, at) => [{ term, depth, at, of: own.length }, ...termRows(terms, term.id, depth + 1)]);
}
