import { z } from 'zod';
import { RuleSchema } from './rule';

/** A rule kept in the theme under a name, for elements and loops of any template. It reads the record it is about, and the site. */
export const NamedRuleSchema = z.strictObject({
  id: z.string().regex(/^[A-Za-z0-9_-]{1,60}$/, { error: 'An id has letters, digits, hyphens and underscores.' }),
  name: z.string().trim().min(1, { error: 'A rule that is kept has a name.' }).max(120),
  /** What it is about. */
  typeId: z.string().max(40),
  rule: RuleSchema,
  /** Counts up with every change. */
  version: z.number().int().default(1),
});

export type NamedRule = z.infer<typeof NamedRuleSchema>;
