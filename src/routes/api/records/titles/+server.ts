import { respond } from '$lib/server/api';
import { findTitles, titlesOf } from '$lib/server/services/lists';
import type { RequestHandler } from './$types';

/** Titles of records: those with the numbers in `ids`, or of `types` those that contain `search`. */
export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const list = (name: string) => (url.searchParams.get(name) ?? '').split(',').filter(Boolean);
    const ids = list('ids').map(Number).filter(Number.isInteger).slice(0, 1000);
    if (ids.length) return titlesOf(ids);
    return findTitles(list('types').slice(0, 50), (url.searchParams.get('search') ?? '').slice(0, 200));
  });
