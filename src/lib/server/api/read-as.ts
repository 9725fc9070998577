import type { z } from 'zod';
import { problemsOf } from '../../core/base/result';
import { Refusal } from '../base/refusal';

/** So many problems of one body are told. */
const MOST_PROBLEMS = 50;

/** What a schema makes of what was sent; refused (422) with its problems, each with its place, where it does not fit. */
export function readAs<Schema extends z.ZodType>(
  schema: Schema,
  sent: unknown,
  title = 'Something is wrong with what was sent.',
): z.output<Schema> {
  const parsed = schema.safeParse(sent);
  if (!parsed.success) throw new Refusal(422, title, problemsOf(parsed.error).slice(0, MOST_PROBLEMS));
  return parsed.data;
}
