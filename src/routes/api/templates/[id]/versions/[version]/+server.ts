import { respond } from '$lib/server/api';
import { readVersion } from '$lib/server/services/versions';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => readVersion(params.id, Number(params.version) || 0));
