import { z } from 'zod';
import { MediaSchema, RecordSchema } from '../../core/schema/record';
import { RecordChangeSchema } from '../../core/content/validate';
import { ContentTypeSchema, TaxonomySchema, TermSchema } from '../../core/schema/model';
import { PURPOSES, TemplateSchema } from '../../core/schema/template';
import { TargetSchema } from '../../core/schema/target';
import { TreeSchema } from '../../core/schema/element';
import { MediaChange } from '../services/media';
import { ReleaseHeadSchema, ReleaseWanted } from '../services/releases';

/** What crosses the border of the API, by name. They are the schemas that the screens use. */
export const schemas = {
  ContentType: ContentTypeSchema,
  Record: RecordSchema,
  NewRecord: RecordChangeSchema.omit({ version: true, generated: true }).extend({ typeId: z.string() }),
  RecordChange: RecordChangeSchema.omit({ version: true }),
  Taxonomy: TaxonomySchema,
  Term: TermSchema,
  NewTerm: TermSchema.partial({ slug: true, position: true, parentId: true }),
  Media: MediaSchema,
  MediaChange,
  Template: TemplateSchema,
  NewTemplate: z.strictObject({
    name: z.string().trim().min(1).max(120),
    purpose: z.enum(PURPOSES),
    serves: z.array(TargetSchema).max(50).default([]),
    except: z.array(TargetSchema).max(50).optional(),
    /** Begins with what its fields call for. */
    ready: z.boolean().default(false),
    tree: TreeSchema.optional(),
  }),
  Release: ReleaseHeadSchema,
  NewRelease: ReleaseWanted,
  Page: z.object({
    address: z.string(),
    state: z.enum(['released', 'draft']),
    status: z.number().int(),
    /** Where it leads, for one that has moved. */
    to: z.string().optional(),
    html: z.string(),
  }),
  Problem: z.object({
    type: z.string().default('about:blank'),
    title: z.string(),
    status: z.number().int(),
    detail: z.string().optional(),
    instance: z.string().optional(),
    /** What can be acted on: where, what is wrong, what would be right. */
    problems: z.array(z.object({ at: z.string(), what: z.string(), fix: z.string().optional() })).optional(),
  }),
};

/** Whether a name is that of a schema. */
export const schemaNamed = (name: string): z.ZodType | undefined =>
  Object.hasOwn(schemas, name) ? schemas[name as keyof typeof schemas] : undefined;
