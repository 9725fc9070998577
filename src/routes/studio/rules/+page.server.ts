import { readAllMedia } from '$lib/server/services/media';
import { plainModel } from '$lib/server/services/model';
import { workbenchRecords } from '$lib/server/services/lists';
import { ruleUses } from '$lib/server/services/rules';
import { readTheme } from '$lib/server/services/theme';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, { records, partial }, media, uses, { theme }] = await Promise.all([
    plainModel(),
    workbenchRecords(),
    readAllMedia(),
    ruleUses(),
    readTheme(),
  ]);
  return { model, records, partial, media, uses, theme };
};
