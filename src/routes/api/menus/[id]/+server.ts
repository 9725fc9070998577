import { bodyOf, respond } from '$lib/server/api';
import { deleteMenu, saveMenu } from '$lib/server/services/menus';
import type { RequestHandler } from './$types';

export const PUT: RequestHandler = ({ params, request }) =>
  respond(async () => saveMenu({ ...((await bodyOf(request)) as object), id: params.id }));

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteMenu(params.id));
