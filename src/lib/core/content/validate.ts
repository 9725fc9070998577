import { z } from 'zod';
import { STATUSES } from '../schema/record';
import { parseValue } from '../model/field';
import type { ContentType } from '../schema/model';
import type { Field } from '../model/model';
import { fail, ok, problem, type Problem, type Result } from '../base/result';

/** A change to a record, as it crosses a border. Values left out stay as they are; null takes a value away. */
export const RecordChangeSchema = z.strictObject({
  title: z
    .string()
    .trim()
    .min(1, { error: 'A record has a title.' })
    .max(500, { error: 'A title takes 500 characters at most.' })
    .optional(),
  slug: z
    .string()
    .max(100)
    .regex(/^[\p{L}\p{N}]+(-[\p{L}\p{N}]+)*$/u, { error: 'An address part has letters, digits and single hyphens.' })
    .refine((slug) => slug !== 'page', { error: '“page” is used for the pages of the archive.' })
    .optional(),
  status: z.enum(STATUSES).optional(),
  values: z.record(z.string(), z.unknown()).optional(),
  terms: z.array(z.string()).max(200).optional(),
  authorId: z.number().int().positive().nullable().optional(),
  /** Instant from which it counts as published; the moment of publishing where it is left out. */
  published: z.iso
    .datetime({ offset: true, error: 'This is a moment with its offset, written 2026-05-31T14:30:00Z.' })
    .optional(),
  created: z.iso.datetime({ offset: true }).optional(),
  /** Says that a made-up record has become a real one. */
  generated: z.literal(false).optional(),
  /** The version the writer saw; a record that has moved on since is not overwritten. */
  version: z.number().int().optional(),
});
export type RecordChange = z.infer<typeof RecordChangeSchema>;

/** The values of a change, each checked by its field's kind; undefined marks one to take away. Unknown fields are told. */
export function parseValues(type: ContentType, input: Record<string, unknown>): Result<Map<Field, unknown>> {
  const problems: Problem[] = [];
  const values = new Map<Field, unknown>();
  for (const [id, value] of Object.entries(input)) {
    const at = `values.${id}`;
    const field = type.fields.find((f) => f.id === id);
    if (!field) {
      problems.push(
        problem(at, `${type.name} has no field “${id}”.`, 'Leave it out, or add the field to the content type.'),
      );
      continue;
    }
    const parsed = parseValue(field, value, at);
    if (parsed.ok) values.set(field, parsed.value);
    else problems.push(...parsed.problems);
  }
  return problems.length ? fail(...problems) : ok(values);
}

/** What a record lacks to be published. */
export function missingValues(type: ContentType, values: Record<string, unknown>): Problem[] {
  return type.fields
    .filter((field) => field.required && values[field.id] === undefined)
    .map((field) =>
      problem(
        `values.${field.id}`,
        `“${field.label}” is required before publishing.`,
        'Fill it in, or keep the record a draft.',
      ),
    );
}
