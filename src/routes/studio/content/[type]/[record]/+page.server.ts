import { error } from '@sveltejs/kit';
import { atLeast } from '$lib/core/people/roles';
import { isOwnRecord } from '$lib/server/queries/own';
import { publishes, readStanding } from '$lib/server/services/standing';
import { plainModel } from '$lib/server/services/model';
import { readRecord } from '$lib/server/services/records';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals: { who } }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const record =
    params.record === 'new'
      ? undefined
      : /^\d{1,9}$/.test(params.record)
        ? await readRecord(Number(params.record))
        : undefined;
  if (params.record !== 'new' && record?.typeId !== type.id) error(404, `There is no such ${type.name.toLowerCase()}.`);
  if (!who) error(401);
  if (!record) return { model, type, record, editable: atLeast(who.role, 'author') };
  const own = atLeast(who.role, 'editor') || (atLeast(who.role, 'author') && (await isOwnRecord(record.id, who.id)));
  const open = publishes(who) || record.status === 'draft';
  return { model, type, record, editable: own && open, standing: await readStanding(record.id) };
};
