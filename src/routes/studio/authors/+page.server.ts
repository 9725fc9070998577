import { authorCounts } from '$lib/server/services/authors';
import { plainModel } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [{ authors }, counts] = await Promise.all([plainModel(), authorCounts()]);
  return { authors, counts };
};
