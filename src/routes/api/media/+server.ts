import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, fileName, pieces, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { addMedia, deleteMedia, listMedia } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

const Asked = z.object({
  search: z.string().max(200).default(''),
  pictures: z.stringbool().default(false),
  limit: z.coerce.number().int().min(1).max(200).default(60),
  offset: z.coerce.number().int().min(0).default(0),
});

export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const asked = Asked.safeParse(Object.fromEntries(url.searchParams));
    if (!asked.success) throw new Refusal(422, 'The library cannot be read.', problemsOf(asked.error));
    return listMedia(asked.data);
  });

/** Takes one picture or file as the body of the request; its name and alternative text stand in the address. */
export const POST: RequestHandler = ({ request, url }) =>
  respond(
    async () => addMedia(fileName(url, 'file'), pieces(request), (url.searchParams.get('alt') ?? '').slice(0, 500)),
    201,
  );

const Ids = z.strictObject({ ids: z.array(z.number().int().positive()).max(1000) });

export const DELETE: RequestHandler = ({ request }) =>
  respond(async () => {
    const chosen = Ids.safeParse(await bodyOf(request));
    if (!chosen.success) throw new Refusal(422, 'These cannot be deleted.', problemsOf(chosen.error));
    return deleteMedia(chosen.data.ids);
  });
