import { readTheme, tokenUses } from '$lib/server/services/theme';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ ...(await readTheme()), uses: await tokenUses() });
