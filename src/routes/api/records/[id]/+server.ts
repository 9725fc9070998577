import { bodyOf, numberOf, respond } from '$lib/server/api';
import { notFound } from '$lib/server/refusal';
import { changeRecord, deleteRecords, readRecord } from '$lib/server/services/records';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) =>
  respond(async () => {
    const record = await readRecord(numberOf(params.id));
    if (!record) throw notFound(`record ${params.id}`);
    return record;
  });

export const PATCH: RequestHandler = ({ params, request }) =>
  respond(async () => changeRecord(numberOf(params.id), await bodyOf(request)));

export const DELETE: RequestHandler = ({ params }) => respond(() => deleteRecords([numberOf(params.id)]));
