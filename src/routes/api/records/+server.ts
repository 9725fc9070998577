import { z } from 'zod';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { problemsOf } from '$lib/core/result';
import { searchRecords } from '$lib/server/services/lists';
import { createRecord } from '$lib/server/services/records';
import type { RequestHandler } from './$types';

const Asked = z.object({
  type: z.string(),
  search: z.string().max(200).default(''),
  limit: z.coerce.number().int().min(1).max(200).default(50),
  offset: z.coerce.number().int().min(0).max(10_000_000).default(0),
});

export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const asked = Asked.safeParse(Object.fromEntries(url.searchParams));
    if (!asked.success) throw new Refusal(422, 'The list cannot be read.', problemsOf(asked.error));
    return searchRecords(asked.data.type, asked.data);
  });

export const POST: RequestHandler = ({ request }) =>
  respond(async () => {
    const body = await bodyOf(request);
    const { typeId, ...change } = z
      .looseObject({ typeId: z.string().catch('') })
      .catch({ typeId: '' })
      .parse(body);
    return createRecord(typeId, change);
  }, 201);
