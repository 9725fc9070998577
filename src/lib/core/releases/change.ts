import { z } from 'zod';

/** One thing that a release would change. */
export const ChangeSchema = z.object({
  what: z.enum(['type', 'taxonomy', 'template', 'rule', 'menu', 'theme', 'addresses', 'structured', 'order']),
  how: z.enum(['new', 'changed', 'gone']),
  /** Of the template, rule, menu, content type or taxonomy; '' for the theme and for an order. */
  id: z.string(),
  name: z.string(),
  /** What is different, each a short sentence without its full stop. */
  details: z.array(z.string()),
});
export type Change = z.infer<typeof ChangeSchema>;
