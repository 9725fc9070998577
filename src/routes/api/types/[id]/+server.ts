import { z } from 'zod';
import { bodyOf, respond } from '$lib/server/api';
import { notFound, Refusal } from '$lib/server/refusal';
import { readModel } from '$lib/server/services/model';
import { deleteContentType, saveContentTypes } from '$lib/server/services/types';
import type { RequestHandler } from './$types';

const Own = z.looseObject({ id: z.string() });

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => {
    const body = await bodyOf(request);
    const own = Own.safeParse(body);
    if (!own.success || own.data.id !== params.id)
      throw new Refusal(422, 'The content type has another id than its address.');
    if (!(await readModel()).type(params.id)) throw notFound('content type with this id');
    const { types, removal } = await saveContentTypes([body]);
    return { ...types[0], removal };
  });

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteContentType(params.id));
