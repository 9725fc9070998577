import { z } from 'zod';
import type { ImportResult, Job } from '../../core/exchange/imports';
import { Problems } from './responses';

/** Long work and what comes of it, by what began it. */

export const JobSchema = z.object({
  id: z.string(),
  state: z.enum(['running', 'done', 'failed', 'cancelled']),
  done: z.number(),
  /** How much there is to do, once that is known. */
  total: z.number().optional(),
  result: z.unknown().optional(),
  title: z.string().optional(),
  problems: Problems.optional(),
}) satisfies z.ZodType<Job>;

const jobOf = <R extends z.ZodType>(result: R) => JobSchema.extend({ result: result.optional() });

const ImportResultSchema = z.object({
  rows: z.number(),
  added: z.number(),
  updated: z.number(),
  skipped: z.number(),
  refused: z.number(),
  problems: z.array(Problems.element.extend({ place: z.string() })),
  moreProblems: z.number(),
  unread: z.array(z.object({ column: z.string(), rows: z.number() })),
}) satisfies z.ZodType<ImportResult>;
export const ImportJob = jobOf(ImportResultSchema);

const Lacking = z.object({
  pages: z.number(),
  some: z.array(z.object({ address: z.string(), title: z.string() })),
});
const AffectedSchema = z.object({
  pages: z.number(),
  drawn: z.number(),
  changed: z.number(),
  some: z.array(
    z.object({
      address: z.string(),
      was: z.string().optional(),
      title: z.string(),
      how: z.enum(['changed', 'looks', 'moved', 'new', 'gone']),
      /** That answer it before and after. */
      templates: z.array(z.string().nullish()),
    }),
  ),
  looks: z.number(),
  bare: Lacking,
  untitled: Lacking,
});
export const AffectedJob = jobOf(AffectedSchema);

export const ExportJob = jobOf(
  z.object({
    /** Names the file; see `GET /export/{file}`. */
    file: z.string(),
    pages: z.number(),
    files: z.number(),
    /** Of the zip, and of what is in it before it was packed. */
    bytes: z.number(),
    written: z.number(),
    /** What is not in it, in sentences. */
    left: z.array(z.string()),
    /** How many files are in it, where it has only those that differ. */
    changed: z.number().optional(),
  }),
);

/** A backup that was written into a file; see `GET /backup/{file}`. */
export const BackupWritingJob = jobOf(z.object({ file: z.string(), bytes: z.number() }));
export const BackupReadingJob = jobOf(z.object({ types: z.number(), records: z.number() }));
