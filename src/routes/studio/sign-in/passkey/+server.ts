import { readBody, respond } from '$lib/server/api/http';
import { comeIn, fromOf, keepStep, takeStep } from '$lib/server/people/coming-in';
import { askPasskey } from '$lib/server/people/passkeys';
import { withPasskey } from '$lib/server/people/sign-in';
import { throttle } from '$lib/server/people/throttle';
import type { RequestHandler } from './$types';

/** What the browser asks its passkeys; what it answers with is only good in this browser. */
export const POST: RequestHandler = (event) =>
  respond(async () => {
    await throttle('address', fromOf(event).address);
    const { options, pass } = await askPasskey({ origin: event.url.origin });
    keepStep(event.cookies, event.url, pass);
    return Response.json(options);
  });

export const PUT: RequestHandler = (event) =>
  respond(async () => {
    const response = await readBody(event.request, 64_000);
    const pass = takeStep(event.cookies) ?? '';
    await comeIn(event, await withPasskey(pass, response, { origin: event.url.origin }, fromOf(event)));
    return new Response(null, { status: 204 });
  });
