import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { mergeTerms } from '$lib/server/services/taxonomies';
import type { RequestHandler } from './$types';

const Into = z.strictObject({ into: z.string() });

export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => {
    const asked = Into.safeParse(await bodyOf(request));
    if (!asked.success) throw new Refusal(422, 'The terms cannot be merged.', problemsOf(asked.error));
    return mergeTerms(params.id, asked.data.into);
  });
