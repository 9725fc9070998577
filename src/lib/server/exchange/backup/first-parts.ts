import { z } from 'zod';
import { MediaSchema } from '../../../core/schema/record';

/** Parts of backups of version 1, which are read and no longer written; see docs/formats/backup.md. */
export const FIRST_VERSION = 1;

export const MediaRow = z.strictObject({
  id: z.number().int().positive(),
  name: z.string().min(1).max(255),
  mime: z.string().max(120),
  width: z.number().int().min(0),
  height: z.number().int().min(0),
  alt: z.string().max(500),
  file: z.string().regex(/^[a-z0-9]{1,64}\.[a-z0-9]{2,5}$/),
  size: z.number().int().min(0),
  focalX: z.number().min(0).max(1),
  focalY: z.number().min(0).max(1),
  // Absent in backups from before pictures were looked at.
  lightest: MediaSchema.shape.lightest,
  darkest: MediaSchema.shape.darkest,
  hash: z.string().max(64).nullable(),
  created: z.iso.datetime(),
});
export type MediaRow = z.infer<typeof MediaRow>;

export const LinkRow = z.tuple([
  z.string().min(1).max(40),
  z.number().int(),
  z.number().int(),
  z.number().int(),
  z.number().int(),
]);

/** What the first part and the format were called before; such files are read as well. */
export const FORMER = { file: 'archive.json', format: 'plum-thread-archive' } as const;

export const Head = z.object({ format: z.enum(['plum-thread-backup', FORMER.format]), version: z.number().int() });
