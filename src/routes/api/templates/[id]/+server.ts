import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { deleteTemplate, readTemplate, saveTemplate } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => readTemplate(params.id));

/** A template, or one with the names of the edits since the last saving and the sitting they belong to. */
const Saving = z.object({
  template: z.unknown(),
  edits: z.array(z.string().max(300)).max(1000).default([]),
  sitting: z.string().max(40).default(''),
});

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => {
    const body = await bodyOf(request);
    if (typeof body !== 'object' || body === null || !('template' in body)) return saveTemplate(params.id, body);
    const saving = Saving.safeParse(body);
    if (!saving.success) throw new Refusal(422, 'The template cannot be saved.', problemsOf(saving.error));
    return saveTemplate(params.id, saving.data.template, saving.data);
  });

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteTemplate(params.id));
