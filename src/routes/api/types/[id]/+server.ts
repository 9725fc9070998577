import { bodyOf, respond } from '$lib/server/api';
import { notFound, Refusal } from '$lib/server/refusal';
import { readModel, saveContentType } from '$lib/server/services/model';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => {
    const body = await bodyOf(request);
    if ((body as { id?: unknown } | null)?.id !== params.id)
      throw new Refusal(422, 'The content type has another id than its address.');
    if (!(await readModel()).type(params.id)) throw notFound('content type with this id');
    return saveContentType(body);
  });
