import { numberOf, respond } from '$lib/server/api';
import { deleteAuthor } from '$lib/server/services/authors';
import type { RequestHandler } from './$types';

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteAuthor(numberOf(params.id)));
