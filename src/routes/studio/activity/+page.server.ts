import { readAccounts } from '$lib/server/people/accounts';
import { WAYS } from '$lib/core/people/activity';
import { readActivity } from '$lib/server/people/activity';
import type { PageServerLoad } from './$types';

const PER_PAGE = 50;

export const load: PageServerLoad = async ({ url }) => {
  const asked = (name: string, most: number) => (url.searchParams.get(name) ?? '').slice(0, most);
  const page = Math.floor(Math.max(1, Math.min(100_000, Number(asked('page', 10)) || 1)));
  const account = Number(asked('account', 10)) || undefined;
  const filter = {
    search: asked('search', 200),
    via: WAYS.find((one) => one === asked('via', 20)),
    subject: asked('subject', 80),
    from: asked('from', 10),
    until: asked('until', 10),
  };
  const [{ items, total }, people] = await Promise.all([
    readActivity({ ...filter, account }, PER_PAGE, (page - 1) * PER_PAGE),
    readAccounts(),
  ]);
  return {
    items,
    total,
    page,
    filter,
    account,
    ways: WAYS,
    pages: Math.max(1, Math.ceil(total / PER_PAGE)),
    people: people.map(({ id, name }) => ({ id, name })),
  };
};
