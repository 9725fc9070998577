import { error } from '@sveltejs/kit';
import { searchRecords } from '$lib/server/services/lists';
import { plainModel } from '$lib/server/services/model';
import { readAllMedia } from '$lib/server/services/media';
import type { PageServerLoad } from './$types';

const PER_PAGE = 50;

export const load: PageServerLoad = async ({ params, url }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const search = (url.searchParams.get('search') ?? '').slice(0, 200);
  const page = Math.max(1, Math.min(1_000_000, Number(url.searchParams.get('page')) || 1));
  const { records, total } = await searchRecords(type.id, {
    search,
    limit: PER_PAGE,
    offset: (Math.floor(page) - 1) * PER_PAGE,
  });
  return {
    model,
    type,
    records,
    total,
    search,
    page: Math.floor(page),
    pages: Math.max(1, Math.ceil(total / PER_PAGE)),
    media: await readAllMedia(),
  };
};
