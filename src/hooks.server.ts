import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { fromOwnPages, isOwnName, isStudio, publicOrigin, whoIsAsking } from '$lib/server/access';
import { problemAnswer } from '$lib/server/api/problem';
import { isUnreachable } from '$lib/server/database/connect';
import { tidyMedia } from '$lib/server/services/media';
import { publishDue } from '$lib/server/services/records';

/** How often scheduled records are looked for, in milliseconds. */
const LOOK_FOR_DUE = 5000;

/** The media folder is put in order while requests are answered already. */
export const init: ServerInit = () => {
  tidyMedia()
    .then(({ aside, back, deleted, refused }) => {
      if (refused) console.warn(refused);
      if (aside || back || deleted)
        console.log(
          `Media folder: ${aside} unknown files put aside, ${back} brought back, ${deleted} deleted after 30 days.`,
        );
    })
    .catch((error: unknown) => console.error('The media folder could not be put in order', error));
  setInterval(() => {
    publishDue().catch((error: unknown) => {
      // A database that is away for a moment is asked again.
      if (!isUnreachable(error)) console.error('Scheduled records could not be published', error);
    });
  }, LOOK_FOR_DUE).unref();
};

export const handle: Handle = async ({ event, resolve }) => {
  // RFC 9110, 15.5.20: the request came to a server that does not answer for the name it asks.
  if (!isOwnName(event.request.headers.get('host'), publicOrigin(event.url)))
    return problemAnswer(421, 'This server does not answer to this name.');
  event.locals.who = whoIsAsking(event.url);
  if (isStudio(event.url.pathname)) {
    if (event.locals.who.role !== 'designer') return problemAnswer(403, 'This belongs to the studio.');
    if (!fromOwnPages(event.request, event.url)) return problemAnswer(403, 'This request comes from another site.');
  }
  const response = await resolve(event);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  return response;
};

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  if (status === 400) return { message: 'This address is not well formed.' };
  console.error(`${event.request.method} ${event.url.pathname}`, error);
  return { message: 'Something went wrong on our side. Nothing you had saved is lost; try again.' };
};
