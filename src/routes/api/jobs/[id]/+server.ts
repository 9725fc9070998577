import { respond } from '$lib/server/api';
import { cancelJob, readJob } from '$lib/server/exchange/jobs';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = ({ params }) => respond(async () => Promise.resolve(readJob(params.id)));

export const DELETE: RequestHandler = ({ params }) => respond(async () => Promise.resolve(cancelJob(params.id)));
