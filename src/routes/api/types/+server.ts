import { z } from 'zod';
import { bodyOf, respond } from '$lib/server/api';
import { readModel } from '$lib/server/services/model';
import { saveContentTypes } from '$lib/server/services/types';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = () => respond(async () => (await readModel()).types);

const Several = z.object({ types: z.array(z.unknown()).min(1).max(50) });

/** Takes one content type, or `{ types }` to save several at once, such as both sides of a new relation. */
export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    const body = await bodyOf(request);
    const several = Several.safeParse(body);
    if (several.success) return saveContentTypes(several.data.types);
    return (await saveContentTypes([body])).types[0];
  }, 201);
