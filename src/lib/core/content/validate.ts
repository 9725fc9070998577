import { z } from 'zod';
import { kindOf, type ContentType, type Field } from '../model/model';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../result';

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
  status: z.enum(['draft', 'published']).optional(),
  values: z.record(z.string(), z.unknown()).optional(),
  terms: z.array(z.string()).max(200).optional(),
  /** The version the writer saw; a record that has moved on since is not overwritten. */
  version: z.number().int().optional(),
});
export type RecordChange = z.infer<typeof RecordChangeSchema>;

/** One field's value as records hold it: undefined where empty. Relations are lists of record ids. */
export function parseValue(field: Field, input: unknown, at: string): Result<unknown> {
  const known = kindOf(field);
  if (!known)
    return fail(
      problem(at, `“${field.label}” has a kind or settings that do not exist.`, 'Mend the field in the content type.'),
    );
  if (input === null || input === undefined) return ok(undefined);
  const { kind, settings, many } = known;
  const schema = kind.value(settings);
  if (kind.family === 'relation' || many) {
    const parsed = z
      .array(schema, { error: `“${field.label}” is a list.` })
      .max(many ? 10_000 : 1, { error: many ? 'These are too many.' : `“${field.label}” takes one.` })
      .safeParse(input);
    if (!parsed.success) return fail(...problemsOf(parsed.error, at));
    return ok(parsed.data.length ? [...new Set(parsed.data)] : undefined);
  }
  if (typeof input === 'string' && input.trim() === '') return ok(undefined);
  const parsed = schema.safeParse(input);
  if (!parsed.success) return fail(...problemsOf(parsed.error, at));
  return ok(kind.isEmpty(parsed.data) ? undefined : parsed.data);
}

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
