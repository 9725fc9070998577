import { z } from 'zod';
import { RuleSchema } from './rule';

/** What a template answers, or leaves out: records, archives, or for a frame the pages of both. */
export const TargetSchema = z.discriminatedUnion('on', [
  /** Every record; for archives every one but the front page and the page that says that there is none. */
  z.strictObject({ on: z.literal('everything') }),
  /** The records of a type, or their archive. */
  z.strictObject({ on: z.literal('type'), typeId: z.string() }),
  /** Archives of the years and months in which records of a type were published. */
  z.strictObject({ on: z.literal('dates'), typeId: z.string() }),
  /** The archive of each term of a taxonomy; for records, those filed under any of them. */
  z.strictObject({ on: z.literal('taxonomy'), taxonomyId: z.string(), typeId: z.string().optional() }),
  /** Records filed under a term or one below it, of every type or of one; or the archives of these. */
  z.strictObject({ on: z.literal('term'), termId: z.string(), typeId: z.string().optional() }),
  /** The archive of each author. */
  z.strictObject({ on: z.literal('authors') }),
  /** Records by an author, or that author's archive. */
  z.strictObject({ on: z.literal('author'), authorId: z.number().int().positive(), typeId: z.string().optional() }),
  z.strictObject({ on: z.literal('search') }),
  /** The front page. */
  z.strictObject({ on: z.literal('front') }),
  /** The page at addresses where there is none. */
  z.strictObject({ on: z.literal('missing') }),
  /** Records of a type for which a rule holds. */
  z.strictObject({ on: z.literal('rule'), typeId: z.string(), rule: RuleSchema }),
  /** Chosen records of a type. */
  z.strictObject({
    on: z.literal('records'),
    typeId: z.string(),
    ids: z.array(z.number().int().positive()).max(5000, { error: 'Choose 5,000 records at most; a rule takes more.' }),
  }),
]);

export type Target = z.infer<typeof TargetSchema>;
