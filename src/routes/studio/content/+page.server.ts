import { recordCounts } from '$lib/server/services/lists';
import { plainModel, readModels } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, counts, { seen }] = await Promise.all([plainModel(), recordCounts(), readModels()]);
  return { model, counts, seen: seen.map(({ id }) => id) };
};
