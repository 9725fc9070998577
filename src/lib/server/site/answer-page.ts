import { decodedPath } from '../../core/addresses/decoded';
import { readQuestion } from '../../core/loops/visitors';
import { atomFeed, FEED_FORMS, jsonFeed } from '../../core/serving/feeds';
import base from '../../site/site.css?inline';
import { isUnreachable } from '../database/connect';
import { followed } from '../queries/following';
import { shareExpiry } from '../services/shares';
import { addressOfDependencies, partsOf } from './page-dependencies';
import { awayPage, keepDrawn, lastDrawn } from './away';
import { cachePage } from './page-cache';
import { feedAt } from './outlets';
import { answer } from './respond';
import { sitePolicy } from './policy';
import { etagOf, ifNew, locationOf, ownPath } from './send';
import { keysHeader } from '../queries/shared-caches';
import type { PageResponse, PageRequest } from './http-response';

const PAGE = { 'content-type': 'text/html; charset=utf-8', vary: 'accept-encoding' };

/** The line above every page of the draft. */
const banner = (path: string) =>
  `<p class="draft-line">This is a draft. <a href="/draft/end?to=${encodeURIComponent(path)}">See the site as it is</a></p>`;

/**
 * Answers a visitor who asks for a page of the site or one of its feeds. `token` is that of a link to the draft. Throws a
 * URIError where the path is not well formed.
 */
export async function answerPage(asked: PageRequest, token?: string): Promise<PageResponse> {
  const { address, origin } = asked;
  const known = asked.header('if-none-match');
  // A form sends what was left open too; the address that can be shared is the one without.
  const { path: pathname, given, said } = partsOf(address);
  const path = decodedPath(pathname);
  if (path === undefined) throw new URIError(`The path ${pathname.slice(0, 200)} is not well formed`);
  if (said.length < given.length) {
    const query = new URLSearchParams(said).toString();
    return { status: 302, headers: { location: ownPath(pathname) + (query && `?${query}`) } };
  }
  try {
    const found = await feedAt(path, origin);
    if (found) {
      const text = found.form === 'feed.atom' ? atomFeed(found.feed) : JSON.stringify(jsonFeed(found.feed), null, 2);
      return ifNew(known, text, { 'content-type': `${FEED_FORMS[found.form]}; charset=utf-8` });
    }
    const draft = token !== undefined && (await shareExpiry(token)) !== undefined;
    // Asked before anything is read, so that what is written meanwhile is not taken for known.
    const version = draft ? undefined : await followed();
    const { status, html, css, players, to, timeZone, reads, hears } = await answer(
      path,
      { base, origin, ...(draft && { which: 'draft', banner: banner(pathname) }) },
      readQuestion(said),
    );
    if (to) return { status, headers: { location: locationOf(to) } };
    const headers = {
      ...PAGE,
      ...(reads && !draft && keysHeader(reads)),
      'content-security-policy': sitePolicy(css, players),
    };
    const etag = etagOf(html);
    if (status === 200 && version !== undefined) {
      if (timeZone && reads && hears && asked.method === 'GET')
        cachePage(asked, { version, html, etag, headers, timeZone, reads, hears });
      keepDrawn(addressOfDependencies(address), { html, css, players });
    }
    return ifNew(known, html, headers, status, draft, etag);
  } catch (error) {
    if (!isUnreachable(error)) throw error;
    // The page as it was last seen is better than none; RFC 9110, 15.6.4 for those that nobody has seen.
    const last = lastDrawn(addressOfDependencies(address));
    if (last)
      return ifNew(known, last.html, { ...PAGE, 'content-security-policy': sitePolicy(last.css, last.players) });
    return {
      status: 503,
      headers: {
        ...PAGE,
        'content-security-policy': sitePolicy(undefined),
        'retry-after': '30',
        'cache-control': 'no-store',
      },
      body: awayPage(),
    };
  }
}
