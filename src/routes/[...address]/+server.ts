import type { RequestHandler } from './$types';
import { readQuestion } from '$lib/core/loops/visitors';
import { atomFeed, FEED_FORMS, jsonFeed } from '$lib/core/serving/feeds';
import { DRAFT_COOKIE } from '$lib/server/access';
import { shareHolds } from '$lib/server/services/shares';
import { feedAt } from '$lib/server/site/outlets';
import { answer } from '$lib/server/site/respond';
import { awayPage, keepDrawn, lastDrawn } from '$lib/server/site/away';
import { isUnreachable } from '$lib/server/database/connect';
import { keepPage } from '$lib/server/site/kept-pages';
import { followed } from '$lib/server/queries/following';
import { keysHeader } from '$lib/server/site/shared-caches';
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
  const page = { 'content-type': 'text/html; charset=utf-8', vary: 'accept-encoding' };
  try {
    const found = await feedAt(path, url.origin);
    if (found) {
      const text = found.form === 'feed.atom' ? atomFeed(found.feed) : JSON.stringify(jsonFeed(found.feed), null, 2);
      return sendIfNew(request, text, { 'content-type': `${FEED_FORMS[found.form]}; charset=utf-8` });
    }
    const token = cookies.get(DRAFT_COOKIE);
    const draft = token !== undefined && (await shareHolds(token)) !== undefined;
    // Asked before anything is read, so that what is written meanwhile is not taken for known.
    const version = draft ? undefined : await followed();
    const { status, html, css, players, to, timeZone, reads } = await answer(
      path,
      { base, origin: url.origin, ...(draft && { which: 'draft', banner: banner(url.pathname) }) },
      asked,
    );
    if (to) return new Response(null, { status, headers: { location: locationOf(to) } });
    const headers = {
      ...page,
      ...(reads && !draft && keysHeader(reads)),
      'content-security-policy': sitePolicy(css, players),
    };
    if (status === 200 && version !== undefined) {
      keepDrawn(url.pathname + url.search, { html, css, players });
      if (timeZone && reads) keepPage(request, { version, html, headers, timeZone, reads });
    }
    return sendIfNew(request, html, headers, status, draft);
  } catch (error) {
    if (!isUnreachable(error)) throw error;
    // The page as it was last seen is better than none; RFC 9110, 15.6.4 for those that nobody has seen.
    const last = lastDrawn(url.pathname + url.search);
    if (last)
      return sendIfNew(request, last.html, { ...page, 'content-security-policy': sitePolicy(last.css, last.players) });
    return new Response(awayPage(), {
      status: 503,
      headers: {
        ...page,
        'content-security-policy': sitePolicy(undefined),
        'retry-after': '30',
        'cache-control': 'no-store',
      },
    });
  }
};
