import { respond } from '$lib/server/api';
import { readVersions } from '$lib/server/services/versions';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(() => readVersions(params.id));
