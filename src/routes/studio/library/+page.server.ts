import { listMedia } from '$lib/server/services/media';
import type { PageServerLoad } from './$types';

const PER_PAGE = 48;

export const load: PageServerLoad = async ({ url }) => {
  const search = (url.searchParams.get('search') ?? '').slice(0, 200);
  const page = Math.floor(Math.max(1, Math.min(100_000, Number(url.searchParams.get('page')) || 1)));
  const { media, total } = await listMedia({ search, limit: PER_PAGE, offset: (page - 1) * PER_PAGE });
  return { media, total, search, page, pages: Math.max(1, Math.ceil(total / PER_PAGE)) };
};
