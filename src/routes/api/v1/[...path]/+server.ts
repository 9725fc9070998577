import { answerApi } from '$lib/server/api/answer';
import { allOperations } from '$lib/server/api/all-operations';
import type { RequestHandler } from './$types';

const answer: RequestHandler = ({ request, url, params, locals }) =>
  answerApi(request, url, `/${params.path}`, allOperations, locals.who);

export const GET = answer;
export const POST = answer;
export const PUT = answer;
export const PATCH = answer;
export const DELETE = answer;
