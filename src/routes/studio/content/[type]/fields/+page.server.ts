import { error } from '@sveltejs/kit';
import { plainModel } from '$lib/server/services/model';
import { countsOf, fillRates } from '$lib/server/services/type-uses';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const [fill, counts] = await Promise.all([fillRates(type.id), countsOf(type.id)]);
  return { model, type, fill, counts };
};
