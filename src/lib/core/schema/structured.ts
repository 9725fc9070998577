import { z } from 'zod';
import { PathSchema } from './path';

/**
 * What records of a type are in the vocabulary of schema.org, and which of its properties their values are. Names are
 * those of the shipped vocabulary, without a prefix.
 */
export const StructuredSchema = z.strictObject({
  is: z.string().regex(/^[A-Z][A-Za-z0-9]*$/, { error: 'This is no type of schema.org.' }),
  properties: z
    .array(
      z.strictObject({
        property: z.string().regex(/^[a-z][A-Za-z0-9]*$/, { error: 'This is no property of schema.org.' }),
        path: PathSchema,
      }),
    )
    .max(60),
});
export type Structured = z.infer<typeof StructuredSchema>;
