import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, numberOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { goBack, readRelease, takeUp } from '$lib/server/services/releases';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => readRelease(numberOf(params.id)));

const What = z.strictObject({ do: z.enum(['show', 'take up']) });

/** Has visitors see this release, or takes its design up into the draft. */
export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => {
    const parsed = What.safeParse(await bodyOf(request));
    if (!parsed.success) throw new Refusal(422, 'Say what to do with the release.', problemsOf(parsed.error));
    const id = numberOf(params.id);
    if (parsed.data.do === 'show') return goBack(id);
    await takeUp(id);
    return { id };
  });
