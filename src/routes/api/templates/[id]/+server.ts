import { bodyOf, respond } from '$lib/server/api';
import { deleteTemplate, readTemplate, saveTemplate } from '$lib/server/services/templates';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => readTemplate(params.id));

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => saveTemplate(params.id, await bodyOf(request)));

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteTemplate(params.id));
