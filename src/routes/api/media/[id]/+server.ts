import { bodyOf, numberOf, respond } from '$lib/server/api';
import { changeMedia, readMedia, usesOfMedia } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  respond(async () => {
    const id = numberOf(params.id);
    return { ...(await readMedia(id)), uses: await usesOfMedia(id) };
  });

export const PATCH: RequestHandler = ({ params, request }) =>
  respond(async () => changeMedia(numberOf(params.id), await bodyOf(request)));
