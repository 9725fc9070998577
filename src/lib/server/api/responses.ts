import { z } from 'zod';
import { LEVELS } from '../../core/serving/resolution';
import { MediaSchema, RecordSchema } from '../../core/schema/record';
import { ContentTypeSchema, AuthorSchema, SiteSchema, TaxonomySchema, TermSchema } from '../../core/schema/model';
import { MenuSchema } from '../../core/schema/menu';
import { NamedRuleSchema } from '../../core/schema/named-rule';
import { TemplateSchema } from '../../core/schema/template';
import { ThemeSchema } from '../../core/schema/theme';
import { ChangeSchema } from '../../core/releases/change';
import { MappingSchema } from '../../core/releases/theme-file';
import type { Explained } from '../../core/rules/explain';
import type { FileView } from '../../core/exchange/imports';
import type { OptionGoingSeen } from '../../core/content/options';
import type { LoopReport } from '../../core/loops/loop-report';
import type { ThemePlan, ThemeTaken } from '../exchange/theme-file';
import type { AddressResolution, ServingPreview } from '../site/serving';

/** What operations answer that is computed, and nowhere stored: each schema is held to the type that computes it. */

export const Problems = z.array(z.object({ at: z.string(), what: z.string(), fix: z.string().optional() }));

/** Pages that visitors see now and that read a field, by template. */
export const Reading = z.array(z.object({ template: z.string(), pages: z.number() }));

/** Somewhere that something is used, in words, and where in the studio that is. */
export const Uses = z.array(z.object({ what: z.string(), href: z.string().optional() }));

/** What a designer should look at in a template, and where. */
export const LooseEnd = z.object({
  elementId: z.string(),
  via: z.string(),
  at: z.string(),
  what: z.string(),
  fix: z.string().optional(),
  cause: z.literal('empty branch').optional(),
});

export const OptionsGoingSchema = z.array(
  z.object({
    field: z.string(),
    fieldLabel: z.string(),
    option: z.string(),
    label: z.string(),
    records: z.number(),
    titles: z.array(z.string()),
    uses: Uses,
    released: Reading,
  }),
) satisfies z.ZodType<OptionGoingSeen[]>;

export const ModelSchema = z.object({
  types: z.array(ContentTypeSchema),
  taxonomies: z.array(TaxonomySchema),
  terms: z.array(TermSchema),
  authors: z.array(AuthorSchema),
  menus: z.array(MenuSchema),
  rules: z.array(NamedRuleSchema),
  site: SiteSchema,
});

/** What templates are designed with. */
export const WorkbenchSchema = z.object({ records: z.array(RecordSchema), media: z.array(MediaSchema) });
export const WorkbenchSiteSchema = WorkbenchSchema.extend({
  model: ModelSchema,
  theme: ThemeSchema,
  /** By type, how many there are where these are not all. */
  partial: z.record(z.string(), z.number()),
});

export const CanvasListsSchema = z.object({
  lists: z.array(
    z.object({ key: z.string(), ids: z.array(z.number()), total: z.number(), page: z.number(), pages: z.number() }),
  ),
  facets: z.array(
    z.object({
      key: z.string(),
      counts: z.array(
        z.object({
          key: z.string(),
          options: z.array(z.tuple([z.string(), z.number()])),
          low: z.number().optional(),
          high: z.number().optional(),
        }),
      ),
    }),
  ),
  stories: z.array(
    z.object({
      key: z.string(),
      candidates: z.number(),
      leftOut: z.number(),
      removed: z.array(z.number()),
      found: z.number(),
      total: z.number(),
    }),
  ),
  records: z.array(RecordSchema),
}) satisfies z.ZodType<LoopReport>;

export const FileViewSchema = z.object({
  columns: z.array(z.string()),
  /** The first rows, by column. */
  sample: z.array(z.record(z.string(), z.string())),
  targets: z.record(z.string(), z.string()),
  into: z.array(z.object({ name: z.string(), target: z.string(), label: z.string() })),
}) satisfies z.ZodType<FileView>;

const Named = z.object({ id: z.string(), name: z.string() });
const Replaceable = Named.extend({ there: z.boolean() });
export const ThemePlanSchema = z.object({
  name: z.string(),
  written: z.string(),
  mapping: MappingSchema,
  types: z.array(
    Named.extend({
      fields: z.array(z.object({ id: z.string(), label: z.string(), kind: z.string(), rows: z.boolean() })),
    }),
  ),
  taxonomies: z.array(Named.extend({ terms: z.number() })),
  templates: z.array(Replaceable.extend({ purpose: z.string() })),
  rules: z.array(Replaceable),
  menus: z.array(Replaceable),
  theme: z.boolean(),
}) satisfies z.ZodType<ThemePlan>;

export const ThemeTakenSchema = z.object({
  types: z.number(),
  fields: z.number(),
  terms: z.number(),
  templates: z.number(),
  replaced: z.number(),
  rules: z.number(),
  menus: z.number(),
  theme: z.boolean(),
  loose: z.array(z.object({ name: z.string(), elements: z.number() })),
}) satisfies z.ZodType<ThemeTaken>;

export const PendingSchema = z.object({ changes: z.array(ChangeSchema), mark: z.string(), shown: z.number() });

export const AssignedTemplateSchema = z.object({ template: TemplateSchema, others: z.number() });

const ExplainedSchema: z.ZodType<Explained> = z.object({
  holds: z.boolean(),
  group: z.enum(['all', 'any', 'none']).optional(),
  words: z.string(),
  saw: z.string().optional(),
  problem: z.string().optional(),
  named: z.string().optional(),
  get parts() {
    return z.array(ExplainedSchema);
  },
});

export const AddressResolutionSchema = z.object({
  address: z.string(),
  title: z.string(),
  is: z.enum(['record', 'archive', 'moved', 'nothing']),
  to: z.string().optional(),
  recordId: z.number().optional(),
  typeId: z.string().optional(),
  contests: z.array(
    z.object({
      purpose: z.enum(['record', 'archive', 'frame']),
      tied: z.boolean(),
      candidates: z.array(Named.extend({ order: z.number(), level: z.enum(LEVELS), reason: z.string() })),
      others: z.array(Named.extend({ reason: z.string(), rule: ExplainedSchema.optional() })),
    }),
  ),
}) satisfies z.ZodType<AddressResolution>;

const Page = z.object({ address: z.string(), title: z.string() });
export const ServingPreviewSchema = z.object({
  words: z.string(),
  answers: z.string(),
  pages: z.number(),
  some: z.array(Page),
  changes: z.array(Page.extend({ from: z.string().optional(), to: z.string().optional() })),
  changed: z.number(),
  problems: Problems,
}) satisfies z.ZodType<ServingPreview>;
