import { redirect } from '@sveltejs/kit';
import { readQuestion } from '$lib/core/loops/visitors';
import type { Which } from '$lib/server/site/design';
import { inspect } from '$lib/server/site/respond';
import { locationOf } from '$lib/server/site/send';
import base from '$lib/site/site.css?inline';
import type { PageServerLoad } from './$types';

/** Which site is looked at; no list of a page asks for anything under this name. */
const WHICH = 'studio';

/** A page as its designer sees it; visitors get the same address without `/studio/site`, and nothing of this. */
export const load: PageServerLoad = async ({ params, url }) => {
  const slash = url.pathname.endsWith('/') && params.address ? '/' : '';
  const path = `/${params.address}${params.address.endsWith('/') ? '' : slash}`;
  const own = new URLSearchParams(url.searchParams);
  const which: Which = own.get(WHICH) === 'draft' ? 'draft' : 'released';
  own.delete(WHICH);
  const surroundings = { base, origin: url.origin, which };
  const { status, html, css, to, inspection } = await inspect(path, surroundings, readQuestion(own));
  const search = own.size ? `?${own.toString()}` : '';
  if (to)
    redirect(
      307,
      `/studio/site${locationOf(to)}${which === 'draft' ? `${to.includes('?') ? '&' : '?'}${WHICH}=draft` : ''}`,
    );
  return { status, html, css, inspection, which, path: path + search };
};
export const trailingSlash = 'ignore';
