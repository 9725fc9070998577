import { respond } from '$lib/server/api';
import { fillRates } from '$lib/server/services/types';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => fillRates(params.id));
