import { error } from '@sveltejs/kit';
import { plainModel, readModels } from '$lib/server/services/model';
import { countsOf, fillRates } from '$lib/server/services/type-uses';
import { pendingChanges } from '$lib/server/services/releases';
import { deferred } from '$lib/server/base/deferred';
import type { PageServerLoad } from './$types';

const OF_TYPES: ReadonlySet<string> = new Set(['type', 'addresses', 'structured']);

export const load: PageServerLoad = async ({ params }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const [counts, { changes }, models] = await Promise.all([countsOf(type.id), pendingChanges(), readModels()]);
  const shown = models.seen.find(({ id }) => id === type.id);
  const waiting = changes.filter(({ what, id }) => OF_TYPES.has(what) && id === type.id);
  // Last, since it may keep the process busy.
  const fill = await deferred(fillRates(type.id));
  return { model, type, fill, counts, waiting, seen: shown ? [shown.id, ...shown.fields.map(({ id }) => id)] : [] };
};
