import type { IncomingMessage, ServerResponse } from 'node:http';
import { OWN_PARTS } from '../../core/base/reserved';
import { DRAFT_COOKIE } from '../services/shares';
import { isOwnName } from '../base/origins';
import { followed } from '../queries/following';
import { answerPage } from './answer-page';
import { answerFromCache } from './page-cache';
import { sendResponse } from './http-response';
import { configuration, perServer } from '../base/server';

/** An address that is longer goes to the router. */
const LONGEST = 600;
/** Addresses that nobody reads in another way: no dots, which files and feeds have, no two slashes, well-formed escapes. */
const PLAIN = /^(?:\/(?:[\w~!$&'()*+,;=:@-]|%(?!2[eEfF])[\dA-Fa-f]{2})+)*\/?(?:\?[^#]*)?$/;

/** Whether a request is for a page as every visitor sees it, and for nothing that the router knows beside that. */
function isForPage({ method, url, headers }: IncomingMessage): boolean {
  if ((method !== 'GET' && method !== 'HEAD') || !url || url.length > LONGEST || !PLAIN.test(url)) return false;
  if (headers.cookie?.includes(DRAFT_COOKIE)) return false;
  const { origin } = configuration();
  if (origin === undefined || !isOwnName(headers.host ?? null, origin)) return false;
  try {
    const [, first = ''] = url.split(/[/?]/, 2).map(decodeURIComponent);
    return !OWN_PARTS.has(first);
  } catch {
    return false;
  }
}

const queue = perServer(() => ({ last: Promise.resolve() }));
/**
 * Waits for one's turn: one page is drawn after the other, in the order in which they were asked for, and between two of
 * them others are sent and asked for. So nobody waits until all are drawn who asked at the same time.
 */
function turn(): Promise<void> {
  const own = queue();
  return (own.last = own.last.then(() => new Promise((go) => setImmediate(go))));
}

async function draw(request: IncomingMessage, response: ServerResponse): Promise<boolean> {
  const from = performance.now();
  try {
    await followed();
    await turn();
    // Whoever asked for the same page before may have had it drawn.
    if (await answerFromCache(request, response)) return true;
    const { method = 'GET', url = '/', headers } = request;
    const { origin = '' } = configuration();
    const header = (name: string) => headers[name] as string | undefined;
    sendResponse(request, response, await answerPage({ method, address: url, origin, header }), from);
    return true;
  } catch {
    // The router asks again, and says what went wrong; unless something was sent already.
    return response.headersSent;
  }
}

/**
 * Answers a visitor who asks for a page without asking the router: from what is kept, or by drawing it. False for
 * everything else, and where anything goes wrong.
 */
export function answerVisitor(request: IncomingMessage, response: ServerResponse): boolean | Promise<boolean> {
  const further = (answered: boolean) => answered || (isForPage(request) && draw(request, response));
  const answered = answerFromCache(request, response);
  return typeof answered === 'boolean' ? further(answered) : answered.then(further);
}
