import { respond } from '$lib/server/api';
import { usesOfField, usesOfType } from '$lib/server/services/types';
import type { RequestHandler } from './$types';

/** What uses the content type, or the field named in the address. */
export const GET: RequestHandler = ({ params, url }) =>
  respond(async () => {
    const field = url.searchParams.get('field');
    return field ? usesOfField(params.id, field) : usesOfType(params.id);
  });
