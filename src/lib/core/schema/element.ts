import { z } from 'zod';
import { RuleSchema } from './rule';
import { StyleSchema } from './style';
import { Key } from './key';
import { SlotValueSchema } from './binding';

export const Id = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,60}$/, { error: 'An id has letters, digits, hyphens and underscores.' });

export const ElementSchema = z.strictObject({
  id: Id,
  kind: z.string().max(40),
  /** The designer's own name for it. */
  name: z.string().max(120).optional(),
  props: z.record(z.string(), z.unknown()).default({}),
  slots: z.record(z.string(), SlotValueSchema).default({}),
  rule: RuleSchema.optional(),
  /** The named look of the theme that its looks begin with. */
  look: Key.optional(),
  /** How it looks, for each width of the screen. */
  style: StyleSchema.optional(),
  /** The designer's own CSS, confined to the element and what it holds. */
  css: z.string().max(20_000, { error: 'Own CSS takes 20,000 characters at most.' }).optional(),
  children: z.array(Id).default([]),
});

export type Element = z.infer<typeof ElementSchema>;

export const TreeSchema = z.strictObject({ root: Id, elements: z.record(z.string(), ElementSchema) });

/** Elements by id; `root` is the one at the top. */
export type Tree = z.infer<typeof TreeSchema>;
