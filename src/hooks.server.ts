import {
  error,
  isHttpError,
  isRedirect,
  redirect,
  type Handle,
  type HandleServerError,
  type RequestEvent,
  type ServerInit,
} from '@sveltejs/kit';
import { atLeast } from '$lib/core/people/roles';
import { neededAt } from '$lib/core/people/screens';
import { fromOwnPages, hasOwner, isEntry, isStudio, whoIsAsking } from '$lib/server/access/access';
import { isOwnName, plainPath, publicOrigin } from '$lib/server/base/origins';
import { readBytes } from '$lib/server/api/http';
import { answerPreflight, corsHeaders } from '$lib/server/access/cors';
import { problemAnswer, refusalAnswer } from '$lib/server/api/problem';
import { isUnreachable } from '$lib/server/database/connect';
import { log } from '$lib/server/base/log';
import { compressText } from '$lib/server/site/compressed';
import { commonHeaders } from '$lib/server/site/http-response';
import { startApplication } from '$lib/server/application/application';
import { createServer } from '$lib/server/application/create-server';
import { prepare } from '$lib/server/application/prepare';
import { jobKindsOf } from '$lib/server/api/operation';
import { allOperations } from '$lib/server/api/all-operations';
import { configurationFrom } from '$lib/server/base/configuration';
import { building } from '$app/environment';
import { randomUUID } from 'node:crypto';

/** The one server of this process. */
const server = createServer(configurationFrom(), jobKindsOf(allOperations));

/** The tables stand before anything is answered; files are put in order while requests are answered already. */
export const init: ServerInit = async () => {
  if (building) return;
  // Files are for whoever runs this and their group alone, whatever the shell that started it says.
  process.umask(0o027);
  await server.run(prepare);
  startApplication(server);
};

const NO_OWNER =
  'Nobody has an account here yet. Open the link that was printed when the application started; it holds for an hour, and the next start prints another one.';

/** Bytes of a form: what signs somebody in, or is chosen in a few fields. Bodies of the API are bounded by each operation. */
const MOST_FORM = 64_000;

/** Reads the body of a form before anybody else does, or gives the refusal of one that is too large. */
async function boundForm(event: RequestEvent): Promise<Response | undefined> {
  const { request } = event;
  if (request.method === 'GET' || request.method === 'HEAD' || request.body === null) return undefined;
  try {
    const body = Buffer.from(await readBytes(request, MOST_FORM));
    event.request = new Request(request, { method: request.method, headers: request.headers, body });
    return undefined;
  } catch (failure) {
    return refusalAnswer(failure);
  }
}

/** A path for the logs, without the secret of a link. */
const toldPath = (path: string): string => path.replace(/^(\/studio\/link|\/draft)\/[^/]+/, '$1/…');

/** Finds out who asks for the studio or the API, and answers those who may not; what they asked for is not looked at. */
async function letThrough(event: RequestEvent): Promise<Response | undefined> {
  const { search } = event.url;
  const pathname = plainPath(event.url) ?? '';
  const api = pathname.startsWith('/api');
  try {
    event.locals.who = await whoIsAsking(event);
    if (event.locals.who) {
      // The API asks each operation.
      if (!api && !isEntry(pathname) && !atLeast(event.locals.who.role, neededAt(pathname)))
        error(403, 'Your account may not see this.');
      return undefined;
    }
    if (!(await hasOwner()) && !/^\/studio\/link\//.test(pathname)) {
      if (api) return problemAnswer(403, NO_OWNER);
      error(403, NO_OWNER);
    }
  } catch (failure) {
    if (!isUnreachable(failure)) throw failure;
    if (api) return refusalAnswer(failure);
    error(
      503,
      'The database cannot be reached. Try again in a moment; what you typed and did not save is kept in this browser.',
    );
  }
  if (api || isEntry(pathname)) return undefined;
  redirect(303, `/studio/sign-in?to=${encodeURIComponent(pathname + search)}`);
}

export const handle: Handle = (input) => server.run(() => respond(input));

const respond: Handle = async ({ event, resolve }) => {
  const from = performance.now();
  const requestId = (event.locals.requestId = randomUUID());
  const { pathname } = event.url;
  const path = plainPath(event.url);
  const answer = async (): Promise<Response> => {
    // Whoever watches the application may call it by its number; there is nothing to read.
    if (pathname === '/healthz' || pathname === '/readyz') return resolve(event);
    // RFC 9110, 15.5.20: the request came to a server that does not answer for the name it asks.
    if (!isOwnName(event.request.headers.get('host'), publicOrigin(event.url)))
      return problemAnswer(421, 'This server does not answer to this name.');
    // No route is found by what is not well formed: it is answered 400, and whatever is thrown there nobody catches.
    if (path === undefined) return resolve(event);
    const preflight = path.startsWith('/api/') ? answerPreflight(event.request) : undefined;
    if (preflight) return preflight;
    if (isStudio(path) || isStudio(event.route.id ?? '')) {
      if (!fromOwnPages(event.request, event.url)) return problemAnswer(403, 'This request comes from another site.');
      const refused = await letThrough(event);
      if (refused) return refused;
    }
    // The API asks who may before it reads; the passkey's route bounds what it reads itself.
    if (!path.startsWith('/api/') && !path.startsWith('/studio/sign-in/passkey')) {
      const tooLarge = await boundForm(event);
      if (tooLarge) return tooLarge;
    }
    return resolve(event);
  };
  const told = (status: number) =>
    log().info(
      {
        requestId,
        method: event.request.method,
        path: toldPath(pathname),
        status,
        ms: Math.round(performance.now() - from),
      },
      'answered',
    );
  let response = await answer().catch((thrown: unknown) => {
    // Whoever was sent away is told of in the log too.
    if (isHttpError(thrown) || isRedirect(thrown)) told(thrown.status);
    throw thrown;
  });
  // What is of the studio is somebody's own.
  if (path !== undefined && !isStudio(path) && event.request.method === 'GET')
    response = await compressText(event.request, response);
  for (const [name, value] of Object.entries(commonHeaders(requestId, path))) response.headers.set(name, value);
  if (path?.startsWith('/api/'))
    for (const [name, value] of corsHeaders(event.request)) response.headers.append(name, value);
  // Nothing of the studio stays behind in a browser, or on the way to it.
  if (isStudio(path ?? '') && !response.headers.has('cache-control'))
    response.headers.set('cache-control', 'private, no-store');
  told(response.status);
  return response;
};

export const handleError: HandleServerError = (input) => server.run(() => describeError(input));

const describeError: HandleServerError = ({ error, event, status }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  if (status === 400) return { message: 'This address is not well formed.' };
  const { requestId } = event.locals;
  log().error({ requestId, method: event.request.method, path: toldPath(event.url.pathname), err: error }, 'failed');
  return { message: 'Something went wrong on our side. Nothing you had saved is lost; try again.', requestId };
};
