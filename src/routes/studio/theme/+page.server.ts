import { readTheme } from '$lib/server/services/theme';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = () => readTheme();
