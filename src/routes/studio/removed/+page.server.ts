import { plainModel } from '$lib/server/services/model';
import { readRemoved } from '$lib/server/services/removed';
import type { PageServerLoad } from './$types';

const PER_PAGE = 50;

export const load: PageServerLoad = async ({ url }) => {
  const page = Math.floor(Math.max(1, Math.min(10_000, Number(url.searchParams.get('page')) || 1)));
  const search = (url.searchParams.get('search') ?? '').slice(0, 200);
  const [{ site }, removed] = await Promise.all([plainModel(), readRemoved(search, PER_PAGE, (page - 1) * PER_PAGE)]);
  return { ...removed, site, search, page, pages: Math.max(1, Math.ceil(removed.total / PER_PAGE)) };
};
