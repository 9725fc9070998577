import { plainModel } from '$lib/server/services/model';
import { readTheme, tokenUses } from '$lib/server/services/theme';
import { filesMissing } from '$lib/server/services/typefaces';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [theme, uses, model] = await Promise.all([readTheme(), tokenUses(), plainModel()]);
  return { ...theme, uses, model, missing: await filesMissing(theme.theme) };
};
