import { pendingChanges, readReleases } from '$lib/server/services/releases';
import { readShares } from '$lib/server/services/shares';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [pending, releases, shares] = await Promise.all([pendingChanges(), readReleases(), readShares()]);
  return { ...pending, releases, shares };
};
