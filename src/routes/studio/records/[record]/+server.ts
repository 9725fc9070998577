import { error, redirect } from '@sveltejs/kit';
import { readRecord } from '$lib/server/services/records';
import type { RequestHandler } from './$types';

/** Leads to a record by its number alone. */
export const GET: RequestHandler = async ({ params }) => {
  const record = /^[1-9]\d{0,9}$/.test(params.record) ? await readRecord(Number(params.record)) : undefined;
  if (!record) error(404, 'There is no record with this number any more.');
  redirect(303, `/studio/content/${record.typeId}/${record.id}`);
};
