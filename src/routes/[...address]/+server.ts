import { DRAFT_COOKIE } from '$lib/server/services/shares';
import { answerPage } from '$lib/server/site/answer-page';
import { asResponse } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

export const trailingSlash = 'ignore';

/** Most visitors are answered before the router is asked; see `answerVisitor`. */
export const GET: RequestHandler = async ({ request, url, cookies }) =>
  asResponse(
    await answerPage(
      {
        method: request.method,
        address: url.pathname + url.search,
        origin: url.origin,
        header: (name) => request.headers.get(name),
      },
      cookies.get(DRAFT_COOKIE),
    ),
  );
