import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { PURPOSES } from '$lib/core/schema/template';
import { TargetSchema } from '$lib/core/schema/target';
import { TreeSchema } from '$lib/core/schema/element';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { createTemplate, readTemplates } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

const Wanted = z.strictObject({
  name: z.string().trim().min(1, { error: 'A template has a name.' }).max(120),
  purpose: z.enum(PURPOSES, { error: 'A template is for a record page, an archive page, a part or the frame.' }),
  typeId: z.string().optional(),
  serves: z.array(TargetSchema).max(50).optional(),
  ready: z.boolean().default(false),
  /** What it begins with. */
  tree: TreeSchema.optional(),
});

export const GET: RequestHandler = () => respond(readTemplates);

export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    const wanted = Wanted.safeParse(await bodyOf(request));
    if (!wanted.success) throw new Refusal(422, 'The template cannot be made.', problemsOf(wanted.error));
    return createTemplate(wanted.data);
  }, 201);
