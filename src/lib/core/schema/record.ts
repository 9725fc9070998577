import { z } from 'zod';

/** A draft is seen by nobody but its makers, a scheduled record by visitors once its moment has come. */
export const STATUSES = ['draft', 'published', 'scheduled'] as const;
export type Status = (typeof STATUSES)[number];

/** A record as the core sees it. Relations and pictures are ids; `values` is keyed by field id, empties are absent. */
export const RecordSchema = z.object({
  id: z.number().int(),
  typeId: z.string(),
  title: z.string(),
  slug: z.string(),
  status: z.enum(STATUSES),
  /** Instants, RFC 3339 with offset. */
  created: z.string(),
  changed: z.string(),
  published: z.string().nullable(),
  values: z.record(z.string(), z.unknown()),
  /** Term ids, in the author's order. */
  terms: z.array(z.string()),
  authorId: z.number().int().nullable().default(null),
  /** Made up by the application, to be replaced by real content. */
  generated: z.boolean().default(false),
  /** Counts up with every change; a writer says which one it saw. */
  version: z.number().int(),
});
export type ContentRecord = z.infer<typeof RecordSchema>;

export const MediaSchema = z.object({
  id: z.number().int(),
  name: z.string(),
  mime: z.string(),
  /** Pixels. */
  width: z.number().int(),
  height: z.number().int(),
  alt: z.string(),
  /** Bytes. */
  size: z.number().int().default(0),
  /** The point that must stay in sight when the picture is cut: parts of width and height, from 0 to 1. */
  focalX: z.number().min(0).max(1).default(0.5),
  focalY: z.number().min(0).max(1).default(0.5),
  /** The lightest and the darkest colour that it has over more than a speck, as `#rrggbb`; absent where nobody has looked yet. */
  lightest: z
    .string()
    .regex(/^#[0-9a-f]{6}$/)
    .nullish(),
  darkest: z
    .string()
    .regex(/^#[0-9a-f]{6}$/)
    .nullish(),
});
export type Media = z.infer<typeof MediaSchema>;
