import { Id, TreeSchema } from './element';
import { TargetSchema } from './target';
import { z } from 'zod';

/** A record page, an archive page, a reusable piece, or what surrounds every page. */
export const PURPOSES = ['record', 'archive', 'part', 'frame'] as const;

export type Purpose = (typeof PURPOSES)[number];

export const TemplateSchema = z.strictObject({
  id: Id,
  name: z.string().trim().min(1, { error: 'A template has a name.' }).max(120),
  purpose: z.enum(PURPOSES),
  /** What it answers, or for a part the kind of record it is about; the designer's order decides between equals. */
  serves: z.array(TargetSchema).max(50),
  /** What of this it does not answer all the same. */
  except: z.array(TargetSchema).max(50).optional(),
  order: z.number().int(),
  tree: TreeSchema,
  version: z.number().int(),
});

export type Template = z.infer<typeof TemplateSchema>;

export const MAX_ELEMENTS = 2000;
