import { z } from 'zod';
import { FieldSchema, Key } from './field';
import { Id } from './id';
import { NamedRuleSchema } from './named-rule';
import { REFUSED_FROM_THE_FIRST } from '../base/reserved';
import { MenuSchema } from './menu';
import { StructuredSchema } from './structured';

/** The part of an address that stands for a term, an author or a record. */
export const Slug = z
  .string()
  .max(100)
  .regex(/^[\p{L}\p{N}]+(-[\p{L}\p{N}]+)*$/u, { error: 'An address part has letters, digits and single hyphens.' });

export const ContentTypeSchema = z.object({
  id: Id,
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
    .refine((base) => !REFUSED_FROM_THE_FIRST.has(base), { error: 'This address belongs to the application.' }),
  /** How the addresses of its records are made, such as `/journal/{year}/{slug}`; without one from its base. */
  address: z.string().max(200).optional(),
  fields: z.array(FieldSchema),
  taxonomyIds: z.array(z.string()),
  /** What its records are to programs that read the page. */
  structured: StructuredSchema.optional(),
});

export type ContentType = z.infer<typeof ContentTypeSchema>;

export const TaxonomySchema = z.object({
  id: Id,
  /** Also the first part of the addresses of its terms’ archives. */
  key: Key.refine((key) => !REFUSED_FROM_THE_FIRST.has(key.replaceAll('_', '-')), {
    error: 'This is the first part of addresses that belong to the application; choose another key.',
  }),
  name: z.string().trim().min(1, { error: 'A taxonomy has a name.' }).max(80),
  tree: z.boolean(),
});

export type Taxonomy = z.infer<typeof TaxonomySchema>;

export const TermSchema = z.object({
  id: Id,
  taxonomyId: z.string(),
  parentId: z.string().nullable(),
  name: z.string().trim().min(1, { error: 'A term has a name.' }).max(160),
  slug: Slug,
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
  slug: Slug,
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
  /** Words that its visitors read in a minute; 200 where nothing is said (common practice). */
  readingPace: z
    .number()
    .int({ error: 'This is a whole number of words.' })
    .min(20, { error: 'At least 20 words a minute.' })
    .max(2000, { error: 'At most 2,000 words a minute.' })
    .optional(),
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
