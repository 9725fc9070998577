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
import {
  fromOwnPages,
  hasOwner,
  isEntry,
  isOwnName,
  isStudio,
  plainPath,
  publicOrigin,
  whoIsAsking,
} from '$lib/server/access';
import { deleteOldKeys } from '$lib/server/api/idempotency';
import { readBytes } from '$lib/server/api/http';
import { answerPreflight, corsHeaders } from '$lib/server/api/cors';
import { problemAnswer, refusalAnswer } from '$lib/server/api/problem';
import { closeDatabase, isUnreachable } from '$lib/server/database/connect';
import { log } from '$lib/server/log';
import { deleteOldUploads } from '$lib/server/exchange/uploads';
import { deleteOldJobs, stopJobs, lookAfterJobs, workedBeside } from '$lib/server/jobs/jobs';
import { tidyMedia } from '$lib/server/services/media';
import { deleteOldChanges } from '$lib/server/queries/changes';
import { prewarmLists } from '$lib/server/site/prewarm-lists';
import { publishDue } from '$lib/server/services/records';
import { deleteOldActivity } from '$lib/server/people/activity';
import { deleteExpired } from '$lib/server/queries/people';
import { deleteOldRemovals } from '$lib/server/services/removed';
import { compressText } from '$lib/server/site/compressed';
import { answerVisitor } from '$lib/server/site/visitors';
import { commonHeaders } from '$lib/server/site/http-response';
import { prepareDatabase } from '$lib/server/services/start';
import { checkFolder, startProblem } from '$lib/server/services/start-problems';
import { building } from '$app/environment';
import { randomUUID } from 'node:crypto';

/** How often scheduled records are looked for, in milliseconds. */
const LOOK_FOR_DUE = 5000;
/** How often it is looked for long work that waits, or whose process has died, in milliseconds. */
const LOOK_FOR_JOBS = 2000;
/** How often it is looked for what is kept no longer: removals, sessions, links, activity. */
const LOOK_FOR_OLD = 600_000;

/** Brings the database to the newest state; one that is not there yet is waited for. */
async function prepared(): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      await checkFolder();
      await prepareDatabase();
      return;
    } catch (error) {
      const known = startProblem(error);
      if (known) log.fatal(known);
      else if (!isUnreachable(error)) log.fatal(error, 'Database preparation failed');
      else if (tries === 30)
        log.fatal('The database does not answer. Check that it runs, and the host and port in PLUM_DATABASE.');
      if (known || !isUnreachable(error) || tries === 30) process.exit(1);
      if (tries === 1) log.warn('The database does not answer yet; it is asked again every second, for half a minute.');
      await new Promise((done) => setTimeout(done, 1000));
    }
  }
}

/** The tables stand before anything is answered; files are put in order while requests are answered already. */
export const init: ServerInit = async () => {
  if (building) return;
  // Files are for whoever runs this and their group alone, whatever the shell that started it says.
  process.umask(0o027);
  await prepared();
  // Whoever starts the server asks this before the application; see scripts/lib/serve.mjs.
  (globalThis as { plumThreadVisitor?: typeof answerVisitor }).plumThreadVisitor = answerVisitor;
  // What this process works on goes to others. See scripts/lib/serve.mjs.
  process.once('sveltekit:shutdown', () => {
    const left = stopJobs().catch(() => undefined);
    // Whoever started the server ends the process then; by itself it ends once no connection is idle.
    (globalThis as { plumThreadEnding?: Promise<void> }).plumThreadEnding = left;
    void left.then(closeDatabase);
  });
  // Says how each kind of long work is done.
  await import('$lib/server/api/whole');
  // Long work that was begun is looked for at once where another process says so.
  const lookForJobs = () =>
    lookAfterJobs().catch((error: unknown) => {
      if (!isUnreachable(error)) log.error(error, 'Job polling failed');
    });
  if (!workedBeside()) setInterval(() => void lookForJobs(), LOOK_FOR_JOBS).unref();
  if (process.env.PLUM_WORK === 'only') {
    (globalThis as { plumThreadWork?: () => void }).plumThreadWork = () => void lookForJobs();
    void lookForJobs();
    // Whoever answers does everything else.
    return;
  }
  tidyMedia()
    .then(({ aside, back, deleted, refused }) => {
      if (refused) log.warn(refused);
      if (aside || back || deleted) log.info({ aside, back, deleted }, 'File store clean-up finished');
    })
    .catch((error: unknown) => log.error(error, 'File store clean-up failed'));
  // What lists are answered from is there before visitors ask, and again after a release by any process.
  const layOut = () =>
    prewarmLists().catch((error: unknown) => {
      if (!isUnreachable(error)) log.error(error, 'List prewarming failed');
    });
  void layOut();
  setInterval(() => {
    void layOut();
    publishDue().catch((error: unknown) => {
      // A database that is away for a moment is asked again.
      if (!isUnreachable(error)) log.error(error, 'Scheduled records could not be published');
    });
  }, LOOK_FOR_DUE).unref();
  setInterval(() => {
    Promise.all([
      deleteOldJobs(),
      deleteOldUploads(),
      deleteOldRemovals(),
      deleteOldChanges(60),
      deleteExpired(new Date()),
      deleteOldActivity(),
      deleteOldKeys(),
    ]).catch((error: unknown) => {
      if (!isUnreachable(error)) log.error(error, 'Clean-up of expired rows failed');
    });
  }, LOOK_FOR_OLD).unref();
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

export const handle: Handle = async ({ event, resolve }) => {
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
    log.info(
      {
        ...{ requestId, method: event.request.method, path: toldPath(pathname), status },
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

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  if (status === 400) return { message: 'This address is not well formed.' };
  const { requestId } = event.locals;
  log.error({ requestId, method: event.request.method, path: toldPath(event.url.pathname), err: error }, 'failed');
  return { message: 'Something went wrong on our side. Nothing you had saved is lost; try again.', requestId };
};
