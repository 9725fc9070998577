import { numberOf, respond } from '$lib/server/api';
import { endShare } from '$lib/server/services/shares';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = ({ params }) => respond(() => endShare(numberOf(params.id)));
