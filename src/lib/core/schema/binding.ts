import { z } from 'zod';
import { PathSchema } from './path';

export const TAKES = ['first', 'last', 'count', 'sum', 'smallest', 'largest', 'average', 'listed'] as const;
export type Take = (typeof TAKES)[number];

const SourceSchema = z.strictObject({ path: PathSchema, take: z.enum(TAKES).optional() });

export const FallbackSchema = z.union([SourceSchema, z.strictObject({ text: z.string().max(2000) })]);
export type Fallback = z.infer<typeof FallbackSchema>;

export const FormatUseSchema = z.strictObject({
  format: z.string().max(40),
  options: z.record(z.string(), z.json()).default({}),
});
export type FormatUse = z.infer<typeof FormatUseSchema>;

/** What connects a slot to a field: resolve, next fallback while empty, take, format, before and after. */
export const BindingSchema = z.strictObject({
  path: PathSchema,
  take: z.enum(TAKES).optional(),
  fallbacks: z.array(FallbackSchema).max(6).default([]),
  formats: z.array(FormatUseSchema).max(6).default([]),
  before: z.string().max(500).default(''),
  after: z.string().max(500).default(''),
});
export type Binding = z.infer<typeof BindingSchema>;

const Fixed = z.strictObject({
  fixed: z.union([z.string().max(100_000), z.number(), z.array(z.number().int()).max(200)]),
});
const Bound = z.strictObject({ bound: BindingSchema });

/** A stretch of text within a sentence: words, or a value; either may be strong, emphasised, or lead somewhere. */
const RunSchema = z.strictObject({
  text: z.string().max(20_000).optional(),
  bound: BindingSchema.optional(),
  strong: z.boolean().optional(),
  em: z.boolean().optional(),
  link: z.union([Fixed, Bound]).optional(),
});
export type Run = z.infer<typeof RunSchema>;

export const SlotValueSchema = z.union([
  Fixed,
  Bound,
  /** Paragraphs of running text with values in them. One in which every value is empty is left out. */
  z.strictObject({ words: z.array(z.array(RunSchema).max(200)).max(200) }),
]);
export type SlotValue = z.infer<typeof SlotValueSchema>;
