import { plainModel } from '$lib/server/services/model';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ model: await plainModel() });
