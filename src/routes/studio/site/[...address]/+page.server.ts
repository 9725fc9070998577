import { redirect } from '@sveltejs/kit';
import { readQuestion } from '$lib/core/loops/visitors';
import { inspect } from '$lib/server/site/respond';
import { locationOf } from '$lib/server/site/send';
import base from '$lib/site/site.css?inline';
import type { PageServerLoad } from './$types';

/** A published page as its designer sees it; visitors get the same address without `/studio/site`, and nothing of this. */
export const load: PageServerLoad = async ({ params, url }) => {
  const slash = url.pathname.endsWith('/') && params.address ? '/' : '';
  const path = `/${params.address}${params.address.endsWith('/') ? '' : slash}`;
  const asked = readQuestion(url.searchParams);
  const { status, html, css, to, inspection } = await inspect(path, { base, origin: url.origin }, asked);
  if (to) redirect(307, `/studio/site${locationOf(to)}`);
  return { status, html, css, inspection, path: path + url.search };
};
export const trailingSlash = 'ignore';
