import { atLeast } from '$lib/core/people/roles';
import { readDesk } from '$lib/server/site/desk';
import { readProposals } from '$lib/server/services/sharing';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals: { who } }) => ({
  ...(await readDesk()),
  proposals: who && atLeast(who.role, 'editor') ? await readProposals() : [],
});
