import { error } from '@sveltejs/kit';
import { columnsOf } from '$lib/core/exchange/columns';
import { plainModel, readModel } from '$lib/server/services/model';
import { countsOf } from '$lib/server/services/type-uses';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  return { type, counts: await countsOf(type.id), columns: columnsOf(type, await readModel()) };
};
