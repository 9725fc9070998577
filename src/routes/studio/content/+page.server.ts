import { recordCounts } from '$lib/server/services/lists';
import { plainModel } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, counts] = await Promise.all([plainModel(), recordCounts()]);
  return { model, counts };
};
