import { error } from '@sveltejs/kit';
import { plainModel } from '$lib/server/services/model';
import { termCounts } from '$lib/server/services/taxonomies';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  const [model, counts] = await Promise.all([plainModel(), termCounts()]);
  const taxonomy = model.taxonomies.find((one) => one.id === params.taxonomy);
  if (!taxonomy) error(404, 'There is no taxonomy at this address.');
  return { model, taxonomy, counts };
};
