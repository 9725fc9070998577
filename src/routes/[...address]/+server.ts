import type { RequestHandler } from './$types';
import { readQuestion } from '$lib/core/loops/visitors';
import { atomFeed, FEED_FORMS, jsonFeed } from '$lib/core/serving/feeds';
import { DRAFT_COOKIE } from '$lib/server/access';
import { shareHolds } from '$lib/server/services/shares';
import { feedAt } from '$lib/server/site/outlets';
import { answer } from '$lib/server/site/respond';
import { locationOf, ownPath, sendIfNew, sitePolicy } from '$lib/server/site/send';
import base from '$lib/site/site.css?inline';

export const trailingSlash = 'ignore';

/** What stands in the question of an address beyond this is not read. */
const MOST_ASKED = 200;

/** The line above every page of the draft. */
const banner = (path: string) =>
  `<p class="draft-line">This is a draft. <a href="/draft/end?to=${encodeURIComponent(path)}">See the site as it is</a></p>`;

export const GET: RequestHandler = async ({ request, url, cookies }) => {
  const path = url.pathname.split('/').map(decodeURIComponent).join('/');
  // A form sends what was left open too; the address that can be shared is the one without.
  const given = [...url.searchParams].slice(0, MOST_ASKED);
  const said = given.filter(([, value]) => value !== '');
  if (said.length < given.length) {
    const query = new URLSearchParams(said).toString();
    return new Response(null, { status: 302, headers: { location: ownPath(url.pathname) + (query && `?${query}`) } });
  }
  const asked = readQuestion(said);
  const found = await feedAt(path, url.origin);
  if (found) {
    const text = found.form === 'feed.atom' ? atomFeed(found.feed) : JSON.stringify(jsonFeed(found.feed), null, 2);
    return sendIfNew(request, text, { 'content-type': `${FEED_FORMS[found.form]}; charset=utf-8` });
  }
  const token = cookies.get(DRAFT_COOKIE);
  const draft = token !== undefined && (await shareHolds(token)) !== undefined;
  const { status, html, css, to } = await answer(
    path,
    { base, origin: url.origin, ...(draft && { which: 'draft', banner: banner(url.pathname) }) },
    asked,
  );
  if (to) return new Response(null, { status, headers: { location: locationOf(to) } });
  return sendIfNew(
    request,
    html,
    { 'content-type': 'text/html; charset=utf-8', 'content-security-policy': sitePolicy(css) },
    status,
    draft,
  );
};
