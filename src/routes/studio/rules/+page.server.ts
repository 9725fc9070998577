import { readAllMedia } from '$lib/server/services/media';
import { plainModel, readModel } from '$lib/server/services/model';
import { workbenchRecords } from '$lib/server/services/lists';
import { ruleUses } from '$lib/server/services/rules';
import { readTheme } from '$lib/server/services/theme';
import { ruleMatches } from '$lib/server/site/rule-matches';
import { deferred } from '$lib/server/base/deferred';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, { records, partial }, media, uses, { theme }, holding] = await Promise.all([
    plainModel(),
    workbenchRecords(),
    readAllMedia(),
    ruleUses(),
    readTheme(),
    // Right after a start, columns of many records are not laid out yet.
    deferred(readModel().then(ruleMatches)),
  ]);
  return { model, records, partial, media, uses, theme, holding };
};
