import { redirect } from '@sveltejs/kit';
import { plainModel } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const { taxonomies } = await plainModel();
  if (taxonomies[0]) redirect(307, `/studio/terms/${taxonomies[0].id}`);
  return {};
};
