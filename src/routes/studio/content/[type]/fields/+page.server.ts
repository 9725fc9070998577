import { error } from '@sveltejs/kit';
import { plainModel } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  return { model, type };
};
