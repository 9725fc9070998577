import { respond } from '$lib/server/api';
import { deleteTaxonomy } from '$lib/server/services/taxonomies';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteTaxonomy(params.id));
