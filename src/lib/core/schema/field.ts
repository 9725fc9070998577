import { z } from 'zod';
import { Id } from './id';

export const Key = z
  .string()
  .regex(/^[a-z][a-z0-9_]*$/, { error: 'A key has small letters, digits and underscores, and starts with a letter.' })
  .max(60);

export const FieldSchema = z.object({
  id: Id,
  key: Key,
  label: z.string().trim().min(1, { error: 'A field has a label.' }).max(120),
  kind: z.string(),
  help: z.string().max(500).default(''),
  required: z.boolean().default(false),
  /** No two records of the type have the same value. */
  unique: z.boolean().default(false),
  /** The tab of the form it stands on; '' for the first. */
  tab: z.string().trim().max(60).default(''),
  /** What a new record starts with. */
  initial: z.unknown().optional(),
  settings: z.record(z.string(), z.unknown()).default({}),
});

export type Field = z.infer<typeof FieldSchema>;
