import { readModel } from '$lib/server/services/model';
import type { LayoutServerLoad } from './$types';

/** What every screen of the studio needs: the time zone in which dates and times are given. */
export const load: LayoutServerLoad = async () => ({ zone: (await readModel()).site.timeZone });
