import { z } from 'zod';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { changeRecords, deleteRecords } from '$lib/server/services/records';
import type { RequestHandler } from './$types';

/** Changes many records alike; what they were before is kept, to be undone. */
export const PATCH: RequestHandler = ({ request }) => respond(async () => changeRecords(await bodyOf(request)));

const Ids = z.strictObject({
  ids: z.array(z.number().int().positive()).min(1, { error: 'Nothing is chosen.' }).max(5000),
});

export const DELETE: RequestHandler = ({ request }) =>
  respond(async () => {
    const chosen = Ids.safeParse(await bodyOf(request));
    if (!chosen.success) throw new Refusal(422, 'These records cannot be deleted.', problemsOf(chosen.error));
    return deleteRecords(chosen.data.ids);
  });
