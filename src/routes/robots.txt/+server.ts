import { robots } from '$lib/core/serving/sitemap';
import { sendIfNew } from '$lib/server/site/send';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ request, url }) =>
  sendIfNew(request, robots(url.origin), { 'content-type': 'text/plain; charset=utf-8' });
