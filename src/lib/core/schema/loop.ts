import { z } from 'zod';
import { PathSchema } from './path';
import { RuleSchema } from './rule';
import { TAKES } from './binding';

/** What visitors of a page may choose of a list: words to search for, values to keep to, and the order. */
export const VisitorsSchema = z.object({
  /** Ids of the fields that a search looks into, `@title` for the title; none, no search. */
  search: z.array(z.string().min(1).max(80)).max(40).default([]),
  /** Fields that visitors filter by, each with words of its own or the field's name. */
  facets: z
    .array(z.object({ step: z.string().min(1).max(80), label: z.string().max(80).default('') }))
    .max(12)
    .default([]),
  /** Orders to choose from; the first is that of the list itself. */
  sorts: z
    .array(z.object({ step: z.string().min(1).max(80), label: z.string().max(80).default(''), down: z.boolean() }))
    .max(8)
    .default([]),
});

export type VisitorSettings = z.infer<typeof VisitorsSchema>;

const Whole = z.number().int().min(0).max(100_000);

export const LoopSourceSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('archive') }),
  z.strictObject({ from: z.literal('query'), typeIds: z.array(z.string()).min(1).max(20) }),
  z.strictObject({ from: z.literal('relation'), path: PathSchema }),
  /** Rows, rows within rows, pictures, choices or terms at a path. */
  z.strictObject({ from: z.literal('values'), path: PathSchema }),
  /** Records picked one by one, in this order. */
  z.strictObject({
    from: z.literal('chosen'),
    ids: z.array(z.number().int()).max(500),
    typeIds: z.array(z.string()).max(20),
  }),
  /** Terms of a taxonomy: all, those at the top, or those right below the terms at a path. */
  z.strictObject({
    from: z.literal('terms'),
    taxonomyId: z.string(),
    which: z.enum(['all', 'top', 'below']).default('top'),
    path: PathSchema.optional(),
  }),
]);

export type LoopSource = z.infer<typeof LoopSourceSchema>;

export const GROUPED_BY = ['value', 'letter', 'month', 'year'] as const;

export type GroupedBy = (typeof GROUPED_BY)[number];

export const LoopSettingsSchema = z.object({
  source: LoopSourceSchema,
  filter: RuleSchema.optional(),
  /** Keys of the order, the most important first: a path's steps from the loop's item, and of several values which. */
  order: z
    .array(z.object({ steps: z.array(z.string()).min(1).max(6), take: z.enum(TAKES).optional(), down: z.boolean() }))
    .max(6)
    .default([]),
  /** Records left out: the page's own, and those that other loops above this one show. */
  leaveOut: z
    .object({ current: z.boolean().default(false), above: z.boolean().default(false) })
    .default({ current: false, above: false }),
  skip: Whole.default(0),
  limit: Whole.min(1).optional(),
  /** Items on a page; without it there is one page. */
  perPage: Whole.min(1).optional(),
  /** What visitors may choose. */
  visitors: VisitorsSchema.optional(),
  /** How the drawing is parted under heads; the list stays as it is. */
  group: z
    .object({
      steps: z.array(z.string()).min(1).max(6),
      by: z.enum(GROUPED_BY).default('value'),
      down: z.boolean().default(false),
    })
    .optional(),
});

type Settled = z.infer<typeof LoopSettingsSchema>;

/** What is left out may go unsaid. */
export type LoopSettings = Omit<Settled, 'leaveOut'> & Partial<Pick<Settled, 'leaveOut'>>;
