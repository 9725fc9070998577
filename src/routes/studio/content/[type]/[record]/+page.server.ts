import { error } from '@sveltejs/kit';
import { plainModel } from '$lib/server/services/model';
import { readRecord } from '$lib/server/services/records';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
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
  return { model, type, record };
};
