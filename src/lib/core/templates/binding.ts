import { z } from 'zod';
import { PathSchema } from '../paths/path';

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

export const SlotValueSchema = z.union([
  z.strictObject({ fixed: z.union([z.string().max(100_000), z.number().int()]) }),
  z.strictObject({ bound: BindingSchema }),
]);
export type SlotValue = z.infer<typeof SlotValueSchema>;
