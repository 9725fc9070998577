import { z } from 'zod';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { recordTable } from '$lib/server/services/lists';
import { createRecord } from '$lib/server/services/records';
import { tableAsked } from '$lib/server/table-address';
import type { RequestHandler } from './$types';

/** A part of a type's records: `type`, `search`, `sort` (a step, `-` before it for downwards), `filter`, `limit`, `offset`. */
export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const type = url.searchParams.get('type');
    if (!type) throw new Refusal(422, 'The list cannot be read.', [{ at: 'type', what: 'Say of which type.' }]);
    return recordTable(type, tableAsked(url.searchParams));
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
