import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { targetProblems } from '$lib/core/serving/targets';
import { PURPOSES } from '$lib/core/schema/template';
import { TargetSchema } from '$lib/core/schema/target';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { readModel } from '$lib/server/services/model';
import { previewServing } from '$lib/server/site/serving';
import type { RequestHandler } from './$types';

const Wanted = z.strictObject({
  id: z.string().max(60).optional(),
  purpose: z.enum(PURPOSES),
  serves: z.array(TargetSchema).max(50),
  except: z.array(TargetSchema).max(50).default([]),
});

/** What would be different if a template served this. Nothing is saved. */
export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    const parsed = Wanted.safeParse(await bodyOf(request));
    if (!parsed.success) throw new Refusal(422, 'The template cannot serve this.', problemsOf(parsed.error));
    const { purpose, serves, except } = parsed.data;
    const model = await readModel();
    const problems = [
      ...targetProblems(serves, purpose, model, 'serves'),
      ...targetProblems(except, purpose, model, 'except'),
    ];
    return { ...(await previewServing(parsed.data)), problems };
  });
