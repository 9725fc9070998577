import { bodyOf, respond } from '$lib/server/api';
import { previewKind } from '$lib/server/services/types';
import type { RequestHandler } from './$types';

/** What would become of a field's values; takes the field as it would be, and writes nothing. */
export const POST: RequestHandler = ({ params, request }) =>
  respond(async () => previewKind(params.id, await bodyOf(request)));
