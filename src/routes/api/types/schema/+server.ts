import { typeFromSchema } from '$lib/core/exchange/json-schema';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import type { RequestHandler } from './$types';

/** Reads a JSON Schema as a content type, to be looked at before it is saved. */
export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    const read = typeFromSchema(await bodyOf(request));
    if (!read.ok) throw new Refusal(422, 'The schema cannot be read as a content type.', read.problems);
    return read.value;
  });
