import { respond } from '$lib/server/api';
import { undoRemoval } from '$lib/server/services/records';
import type { RequestHandler } from './$types';

/** Undoes a removal: puts everything back that it took. */
export const POST: RequestHandler = ({ params }) => respond(() => undoRemoval(params.id));
