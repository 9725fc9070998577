import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { orderContentTypes } from '$lib/server/services/types';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = ({ request }) =>
  respond(async () => {
    const ids = z.array(z.string()).safeParse(await bodyOf(request));
    if (!ids.success) throw new Refusal(422, 'This is no order.', problemsOf(ids.error));
    await orderContentTypes(ids.data);
  });
