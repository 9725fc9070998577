import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { fromOwnPages, isOwnName, isStudio, publicOrigin, whoIsAsking } from '$lib/server/access';
import { problemAnswer } from '$lib/server/api/problem';
import { closeDatabase, isUnreachable } from '$lib/server/database/connect';
import { log } from '$lib/server/log';
import { tidyMedia } from '$lib/server/services/media';
import { publishDue } from '$lib/server/services/records';
import { forgetOld } from '$lib/server/services/removed';
import { prepareDatabase } from '$lib/server/services/start';
import { building } from '$app/environment';
import { randomUUID } from 'node:crypto';

/** How often scheduled records are looked for, in milliseconds. */
const LOOK_FOR_DUE = 5000;
/** How often it is looked for what was removed longer ago than it is kept. */
const LOOK_FOR_OLD = 600_000;

/** Brings the database to the newest state; one that is not there yet is waited for. */
async function prepared(): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      await prepareDatabase();
      return;
    } catch (error) {
      if (!isUnreachable(error) || tries === 30) {
        log.fatal(error, 'The database could not be made ready');
        process.exit(1);
      }
      if (tries === 1) log.warn('The database does not answer yet; it is asked again every second, for half a minute.');
      await new Promise((done) => setTimeout(done, 1000));
    }
  }
}

/** The tables stand before anything is answered; the media folder is put in order while requests are answered already. */
export const init: ServerInit = async () => {
  if (building) return;
  await prepared();
  // Idle connections would keep the process alive.
  process.once('sveltekit:shutdown', () => void closeDatabase());
  tidyMedia()
    .then(({ aside, back, deleted, refused }) => {
      if (refused) log.warn(refused);
      if (aside || back || deleted) log.info({ aside, back, deleted }, 'The media folder was put in order');
    })
    .catch((error: unknown) => log.error(error, 'The media folder could not be put in order'));
  setInterval(() => {
    publishDue().catch((error: unknown) => {
      // A database that is away for a moment is asked again.
      if (!isUnreachable(error)) log.error(error, 'Scheduled records could not be published');
    });
  }, LOOK_FOR_DUE).unref();
  setInterval(() => {
    forgetOld().catch((error: unknown) => {
      if (!isUnreachable(error)) log.error(error, 'What was removed long ago could not be forgotten');
    });
  }, LOOK_FOR_OLD).unref();
};

export const handle: Handle = async ({ event, resolve }) => {
  const from = performance.now();
  const requestId = (event.locals.requestId = randomUUID());
  const { pathname } = event.url;
  const answer = async (): Promise<Response> => {
    // Whoever watches the application may call it by its number; there is nothing to read.
    if (pathname === '/healthz') return resolve(event);
    // RFC 9110, 15.5.20: the request came to a server that does not answer for the name it asks.
    if (!isOwnName(event.request.headers.get('host'), publicOrigin(event.url)))
      return problemAnswer(421, 'This server does not answer to this name.');
    event.locals.who = whoIsAsking(event.url);
    if (isStudio(pathname)) {
      if (event.locals.who.role !== 'designer') return problemAnswer(403, 'This belongs to the studio.');
      if (!fromOwnPages(event.request, event.url)) return problemAnswer(403, 'This request comes from another site.');
    }
    return resolve(event);
  };
  const response = await answer();
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('x-request-id', requestId);
  const { status } = response;
  log.info(
    { requestId, method: event.request.method, path: pathname, status, ms: Math.round(performance.now() - from) },
    'answered',
  );
  return response;
};

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  if (status === 400) return { message: 'This address is not well formed.' };
  const { requestId } = event.locals;
  log.error({ requestId, method: event.request.method, path: event.url.pathname, err: error }, 'failed');
  return { message: 'Something went wrong on our side. Nothing you had saved is lost; try again.', requestId };
};
