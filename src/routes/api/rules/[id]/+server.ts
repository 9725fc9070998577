import { respond } from '$lib/server/api';
import { deleteRule } from '$lib/server/services/rules';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteRule(params.id));
