import { z } from 'zod';
import { problemsOf } from '$lib/core/result';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { createTemplate, readTemplates } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

const Wanted = z.strictObject({
  name: z.string().trim().min(1, { error: 'A template has a name.' }).max(120),
  purpose: z.enum(['record', 'archive'], { error: 'A template is for a record page or an archive page.' }),
  typeId: z.string(),
});

export const GET: RequestHandler = () => respond(readTemplates);

export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    const wanted = Wanted.safeParse(await bodyOf(request));
    if (!wanted.success) throw new Refusal(422, 'The template cannot be made.', problemsOf(wanted.error));
    return createTemplate(wanted.data);
  }, 201);
